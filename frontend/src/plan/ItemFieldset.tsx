import type { ReactNode } from "react";

import type { Operation } from "../api/client";
import { usePlanTools } from "./context";
import { TextField } from "./fields";
import type { FieldName } from "../kit/quantity";

/** Takes an item of the plan away; undo brings it back. */
export function RemoveItem({
  path,
  name,
  before = [],
}: {
  path: string;
  name: string;
  /** What has to go with it, so that nothing refers to what is gone. */
  before?: Operation[];
}) {
  const { session, mayWrite } = usePlanTools();
  if (!mayWrite) return null;
  return (
    <button
      type="button"
      className="text-button"
      onClick={() => session.change(...before, { op: "remove", path })}
    >
      <span aria-hidden="true">✕</span>
      <span className="sr-only">Remove {name}</span>
    </button>
  );
}

/** An item with a name that can be changed, a way to remove it, and its fields in a sentence below. */
export function ItemFieldset({
  field,
  path,
  name,
  before,
  children,
}: {
  field: FieldName;
  path: string;
  name: string;
  before?: Operation[];
  children: ReactNode;
}) {
  return (
    <fieldset className="mt-2 border-b border-base-300 pb-2">
      <legend className="flex w-full items-center gap-2 font-semibold">
        <TextField bare field={field} path={`${path}/name`} label={`Name of ${name}`} />
        <RemoveItem path={path} name={name} {...(before ? { before } : {})} />
      </legend>
      <div className="mt-1 flex flex-wrap items-center gap-x-2 gap-y-1">{children}</div>
    </fieldset>
  );
}
