import type { ReactNode } from "react";

import { usePlanTools } from "./context";
import { TextField } from "./fields";
import type { FieldName } from "../kit/quantity";
import { useRemoval } from "./useRemoval";
import { Button } from "../kit/Button";
import { Problem } from "../kit/Problem";
import { Fieldset } from "../kit/Fieldset";

/** Takes an item of the plan away; undo brings it back. */
export function RemoveItem({ path, name }: { path: string; name: string }) {
  const { mayWrite } = usePlanTools();
  const { problem, remove } = useRemoval(path);
  if (!mayWrite) return null;
  return (
    <>
      <Button look="text" onClick={remove}>
        <span aria-hidden="true">✕</span>
        <span className="sr-only">Remove {name}</span>
      </Button>
      <Problem of={problem} />
    </>
  );
}

/** The last line of an entry that opens: takes it away, and says what it takes. */
export function RemoveLine({ path, name }: { path: string; name: string }) {
  return (
    <p className="mt-1">
      <RemoveItem path={path} name={name} /> <span className="faint">removes {name}</span>
    </p>
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
    <Fieldset
      className="mt-2 border-b border-base-300 pb-2"
      legend={
        <>
          <TextField bare field={field} path={`${path}/name`} label={`Name of ${name}`} />
          <RemoveItem path={path} name={name} />
        </>
      }
    >
      <div className="mt-1 flex flex-wrap items-center gap-x-2 gap-y-1">{children}</div>
    </Fieldset>
  );
}
