import type { ReactNode } from "react";

import { usePlanTools } from "./context";
import { TextField } from "./fields";
import type { FieldName } from "../kit/quantity";
import { useRemoval } from "./useRemoval";

/** Takes an item of the plan away; undo brings it back. */
export function RemoveItem({ path, name }: { path: string; name: string }) {
  const { mayWrite } = usePlanTools();
  const { problem, remove } = useRemoval(path);
  if (!mayWrite) return null;
  return (
    <>
      <button type="button" className="text-button" onClick={remove}>
        <span aria-hidden="true">✕</span>
        <span className="sr-only">Remove {name}</span>
      </button>
      {problem && (
        <span className="problem" role="alert">
          {problem}
        </span>
      )}
    </>
  );
}

/** An item with a name that can be changed, a way to remove it, and its fields in a sentence below. */
export function ItemFieldset({
  field,
  path,
  name,
  children,
}: {
  field: FieldName;
  path: string;
  name: string;
  children: ReactNode;
}) {
  return (
    <fieldset className="mt-2 border-b border-base-300 pb-2">
      <legend className="flex w-full items-center gap-2 font-semibold">
        <TextField bare field={field} path={`${path}/name`} label={`Name of ${name}`} />
        <RemoveItem path={path} name={name} />
      </legend>
      <div className="mt-1 flex flex-wrap items-center gap-x-2 gap-y-1">{children}</div>
    </fieldset>
  );
}
