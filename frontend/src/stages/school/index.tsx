export { SchoolStage as default } from "./SchoolStage";
