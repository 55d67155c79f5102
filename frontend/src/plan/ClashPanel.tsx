import { useState } from "react";

import { usePlanTools, useSnapshot } from "./context";
import { Fieldset } from "../kit/Fieldset";
import { Radio } from "../kit/Input";
import { Button } from "../kit/Button";

const plain = (value: unknown): string => {
  if (value === null || value === undefined) return "removed";
  return typeof value === "object" ? "the whole entry" : String(value);
};

/** The same field changed by two people: both values, side by side, and neither is lost before a choice. */
export function ClashPanel() {
  const { session } = usePlanTools();
  const { clashes } = useSnapshot();
  const [mine, setMine] = useState<ReadonlySet<string>>(new Set());
  if (!clashes.length) return null;
  const choose = (path: string, keep: boolean) => {
    const next = new Set(mine);
    if (keep) next.add(path);
    else next.delete(path);
    setMine(next);
  };
  return (
    <section
      className="border-b-2 border-error bg-base-200 px-6 py-4"
      role="alertdialog"
      aria-label="Changed by two people"
    >
      <h2>Somebody else changed the same field</h2>
      <p>Choose which value stays. Nothing is saved or lost until then.</p>
      <ul className="my-3 space-y-3">
        {clashes.map((clash) => (
          <li key={clash.path}>
            <Fieldset
              legend={
                <>
                  {clash.label} <span className="faint">(was {plain(clash.base)})</span>
                </>
              }
            >
              <div className="flex flex-wrap items-baseline gap-x-6">
                <label>
                  <Radio
                    name={clash.path}
                    checked={!mine.has(clash.path)}
                    onChange={() => choose(clash.path, false)}
                  />{" "}
                  Theirs: <b>{plain(clash.theirs)}</b>
                </label>
                <label>
                  <Radio
                    name={clash.path}
                    checked={mine.has(clash.path)}
                    onChange={() => choose(clash.path, true)}
                  />{" "}
                  Mine: <b>{plain(clash.mine)}</b>
                </label>
              </div>
            </Fieldset>
          </li>
        ))}
      </ul>
      <Button onClick={() => void session.resolve((path) => mine.has(path))}>
        Go on with these values
      </Button>
    </section>
  );
}
