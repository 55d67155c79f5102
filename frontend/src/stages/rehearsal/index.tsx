export { RehearsalStage as default } from "./RehearsalStage";
