export { SafeguardStage as default } from "./SafeguardStage";
