export { TiersStage as default } from "./TiersStage";
