export { RulesStage as default } from "./RulesStage";
