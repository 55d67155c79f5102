import stages from "../generated/stages.json";

/** What each stage is called, by its id. */
export const STAGE_TITLES = new Map(stages.map((stage) => [stage.id, stage.title]));
