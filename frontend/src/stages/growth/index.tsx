export { GrowthStage as default } from "./GrowthStage";
