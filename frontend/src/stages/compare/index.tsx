export { CompareStage as default } from "./CompareStage";
