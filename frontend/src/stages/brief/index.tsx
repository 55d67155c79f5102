export { BriefStage as default } from "./BriefStage";
