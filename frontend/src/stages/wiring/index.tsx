export { WiringStage as default } from "./WiringStage";
