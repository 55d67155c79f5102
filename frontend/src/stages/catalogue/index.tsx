export { CatalogueStage as default } from "./CatalogueStage";
