import { lazy, type ComponentType } from "react";

import registered from "../generated/stages.json";

/** A view of an open plan, loaded when it is first gone to. */
export interface View {
  id: string;
  title: string;
  Component: ComponentType;
}

const folders = import.meta.glob<{ default: ComponentType }>("../stages/*/index.tsx");

function view(id: string, title: string): View {
  const load = folders[`../stages/${id}/index.tsx`];
  if (!load) throw new Error(`no folder stages/${id} with an index.tsx`);
  return { id, title, Component: lazy(load) };
}

/** Every stage of the core's registry, with its number in the work's twelve. */
export const STAGES = registered;

/** The stages that are worked on inside a plan; a stage of the studio has a page of its own. */
export const STAGE_VIEWS: View[] = registered
  .filter((stage) => !stage.is_of_studio)
  .map((stage) => view(stage.id, stage.title));

/** What stands beside the stages of a plan. */
export const BESIDE_VIEWS: View[] = [
  view("catalogue", "Catalogue"),
  view("house-rules", "House rules"),
];

export const VIEWS: View[] = [...STAGE_VIEWS, ...BESIDE_VIEWS];
