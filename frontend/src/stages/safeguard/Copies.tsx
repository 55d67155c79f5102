import { useMemo } from "react";

import type { CopyRun } from "../../api/client";
import { Fieldset } from "../../kit/Fieldset";
import { Checkbox, Offer } from "../../kit/Input";
import { Problem } from "../../kit/Problem";
import { Entry } from "../../kit/Fold";
import { rateText, sizeText } from "../../kit/format";
import { AddItem } from "../../plan/AddItem";
import { AllFields } from "../../plan/AllFields";
import { usePart, usePlanTools, useSnapshot } from "../../plan/context";
import { Choice, RefusedHere, TextField, type Option } from "../../plan/fields";
import { RemoveItem } from "../../plan/ItemFieldset";
import { useNewItem } from "../../plan/useNewItem";
import { useWhere } from "../../plan/useWhere";
import { runText, waitText } from "./words";

const COPIES = "plan/safekeeping/copies";
const SHOWN = ["name", "material_ids", "to", "source_id"];

/** Every copy with how it runs; an entry opens to what it is of, where it goes and how often. */
export function Copies() {
  const { document, evaluation } = useSnapshot();
  const copies = document.plan.safekeeping?.copies ?? [];
  const runs = new Map(evaluation.copies.copies.map((run) => [run.id, run]));
  return (
    <>
      <h3 className="mt-4">Copies</h3>
      {copies.length === 0 && (
        <p className="faint">None yet. Say first what a copy shall lie on, then what is copied.</p>
      )}
      {copies.map((copy) => {
        const run = runs.get(copy.id);
        return run ? <OneCopy key={copy.id} copy={copy} run={run} /> : null;
      })}
      <RefusedHere path={COPIES} />
      <AddCopy />
    </>
  );
}

type Copy = NonNullable<
  NonNullable<ReturnType<typeof useSnapshot>["document"]["plan"]["safekeeping"]>["copies"]
>[number];

function OneCopy({ copy, run }: { copy: Copy; run: CopyRun }) {
  const { document } = useSnapshot();
  const { copies } = document.plan.safekeeping ?? {};
  const { targets } = useWhere();
  const sources = useMemo((): Option[] => {
    const others = (copies ?? []).filter((each) => each.id !== copy.id);
    return [["", "where it lives"], ...others.map((each): Option => [each.id, each.name])];
  }, [copies, copy.id]);
  const path = `${COPIES}/${copy.id}`;
  const { said, well } = runText(run, copy.every_hours ?? 24);
  return (
    <Entry name={copy.name} figure={`${said} ${well ? "✓" : "✕"}`} open={false}>
      <p className="text-sm">{aboutRun(run)}</p>
      <TextField field="Copy.name" path={`${path}/name`} />
      <Of name={copy.name} ids={copy.material_ids} path={`${path}/material_ids`} />
      <Choice field="Copy.to" path={`${path}/to`} options={targets} />
      <Choice field="Copy.source_id" path={`${path}/source_id`} options={sources} />
      <AllFields model="Copy" path={path} skip={SHOWN} />
      <p className="mt-1">
        <RemoveItem path={path} name={copy.name} /> <span className="faint">removes this copy</span>
      </p>
    </Entry>
  );
}

/** What one run moves, what holds it back, and what the first one took. */
function aboutRun(run: CopyRun): string {
  if (run.missing) return `It counts nowhere: ${run.missing}.`;
  if (!run.material_names.length) return "What it is of comes to nothing yet.";
  const first = run.first_days ? ` The first one takes ${waitText(run.first_days * 24)}.` : "";
  if (run.run_hours === null || run.run_hours === undefined) {
    return `${sizeText(run.run_bytes)} a run, and ${run.limited_by} carries nothing.${first}`;
  }
  const how = `${rateText(run.bytes_per_s)}, held back by ${run.limited_by}`;
  return `${sizeText(run.run_bytes)} a run at ${how}: ${waitText(run.run_hours)} of ${waitText(run.window_hours)}.${first}`;
}

/** Which material a copy is of. */
function Of({ name, ids, path }: { name: string; ids: string; path: string }) {
  const refusal = usePart((snapshot) => snapshot.refused.get(path));
  const { document } = useSnapshot();
  const { session, mayWrite } = usePlanTools();
  const now = refusal?.operation ? String(refusal.operation.value) : ids;
  const chosen = new Set(now.split(" ").filter(Boolean));
  const materials = document.plan.safekeeping?.materials ?? [];
  const turn = (id: string) => {
    const next = materials.map((m) => m.id).filter((each) => chosen.has(each) !== (each === id));
    session.set(path, next.join(" "));
  };
  return (
    <Fieldset
      className="border-b border-base-300 py-1"
      legend={<span className="sr-only">What {name} is of</span>}
    >
      <span className="flex flex-wrap gap-x-3" data-path={path}>
        {materials.map((material) => (
          <label key={material.id} className="label text-base-content">
            <Checkbox
              checked={chosen.has(material.id)}
              disabled={!mayWrite}
              onChange={() => turn(material.id)}
              onBlur={() => void session.flush()}
            />
            {material.name}
          </label>
        ))}
      </span>
      <Problem of={refusal?.sentence} />
    </Fieldset>
  );
}

/** A copy to something that is there, or to something new. */
function AddCopy() {
  const { mayWrite } = usePlanTools();
  const { targets } = useWhere();
  const { problem, add } = useNewItem();
  if (!mayWrite) return null;
  return (
    <p className="mt-1 flex flex-wrap items-center gap-3">
      {targets.length > 0 && (
        <Offer
          label="Add a copy"
          path={COPIES}
          words="Add a copy to …"
          from={targets.map(([id, name]) => ({ id, name }))}
          onChoose={(to) => add({ path: COPIES, given: { to } })}
        />
      )}
      <AddItem path="plan/safekeeping/stores">Add what copies lie on</AddItem>
      <Problem of={problem} />
    </p>
  );
}
