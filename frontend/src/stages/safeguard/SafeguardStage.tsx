import { useState } from "react";

import { Select } from "../../kit/Input";
import { Waiting } from "../../kit/Notice";
import { Problem } from "../../kit/Problem";
import { Table } from "../../kit/Table";
import { Tabs } from "../../kit/Tabs";
import { Figure } from "../../plan/Figure";
import { useSnapshot } from "../../plan/context";
import { FirstHelp } from "../../plan/FirstHelp";
import { CellDetail } from "./CellDetail";
import { Copies } from "./Copies";
import { Failures } from "./Failures";
import { CopyRule, Materials, People, Places, Stores } from "./Kept";
import { LossGrid, type Left, type Spot } from "./LossGrid";
import { Redundancy } from "./Redundancy";
import { useSafeguard, useTwoLosses } from "./useSafeguard";
import { HEADS, type Cell } from "./words";
import { Worth } from "./Worth";

const VIEWS = [
  { id: "losses", name: "Material against losses" },
  { id: "redundancy", name: "Redundancy" },
  { id: "worth", name: "What it is worth" },
  { id: "failures", name: "Boxes and wires" },
] as const;
type View = (typeof VIEWS)[number]["id"];

/** What is left after a loss, how likely it is, and what each protection is worth. */
export function SafeguardStage() {
  const [view, setView] = useState<View>("losses");
  return (
    <div className="ask-answer">
      <section aria-label="Copies">
        <Asked />
      </section>
      <section aria-label="After a loss" className="answer-column">
        <Tabs label="What is looked at" tabs={VIEWS} chosen={view} choose={setView} />
        {view === "losses" ? <Losses /> : <Answered view={view} />}
      </section>
    </div>
  );
}

/** The answer in a sentence, the odds of the pools, and the copies. */
function Asked() {
  const { evaluation } = useSnapshot();
  const { safety } = evaluation.scales;
  return (
    <>
      <h2>What is left after a loss</h2>
      <p className="mt-1">
        <span className={`state-${safety.verdict} font-semibold`}>{safety.verdict}</span>:{" "}
        {safety.because}.
      </p>
      <p className="faint text-sm">
        Redundancy is not a backup: copies in the same box fall with it.
      </p>
      {evaluation.odds.length > 0 && (
        <>
          <h3 className="mt-3">Odds of losing data in a year</h3>
          <Table aria-label="Odds of losing data in a year">
            <tbody>
              {evaluation.odds.map((pool) => (
                <tr key={pool.id}>
                  <td>{pool.name}</td>
                  <td className="text-right">
                    <Figure id={`odds.${pool.id}.loss`}>
                      {pool.odds.chance.replace("about ", "")}
                    </Figure>
                  </td>
                  <td className="faint text-right">
                    {pool.odds.reads > pool.odds.disks ? "by a read error" : "by dead drives"}
                  </td>
                </tr>
              ))}
            </tbody>
          </Table>
        </>
      )}
      <FirstHelp stage="safeguard" />
      <Copies />
      <CopyRule />
      <Stores />
      <Places />
      <Materials />
      <People />
    </>
  );
}

function Losses() {
  const { copies } = useSnapshot().evaluation;
  const [spot, choose] = useState<Spot | null>(null);
  const [second, setSecond] = useState<Cell["loss"] | "">("");
  const pairs = useTwoLosses(second !== "");
  const rows = new Map((pairs.data ?? []).map((row) => [`${row.material}|${row.loss}`, row]));
  const chosen = copies.materials.find((each) => each.id === spot?.material);
  if (copies.materials.length === 0) {
    return <p className="mt-2">Nothing is kept yet: say in the brief what is shot or kept.</p>;
  }
  const after = (material: (typeof copies.materials)[number], cell: Cell): Left => {
    if (!second) return cell;
    const both =
      rows.get(`${material.id}|${cell.loss} and ${second}`) ??
      rows.get(`${material.id}|${second} and ${cell.loss}`);
    if (!both) return cell;
    return {
      loss: cell.loss,
      is_late: false,
      survivors: both.survivors,
      recovery_hours: both.recovery_hours,
    };
  };
  return (
    <>
      <p className="mt-2 flex flex-wrap items-center gap-2">
        <label htmlFor="second-loss">Together with</label>
        <Select
          id="second-loss"
          value={second}
          onChange={(event) => setSecond(event.target.value as Cell["loss"] | "")}
        >
          <option value="">nothing else</option>
          {Object.keys(HEADS).map((loss) => (
            <option key={loss} value={loss}>
              {loss}
            </option>
          ))}
        </Select>
      </p>
      <Problem of={pairs.error} />
      <div className="overflow-x-auto">
        <LossGrid materials={copies.materials} after={after} chosen={spot} choose={choose} />
      </div>
      <p className="faint mt-2 text-sm">
        Each block is a copy that is left; a single one is outlined. Below it, how long until people
        work again; underlined is longer than is tolerated. Press a cell for its copies.
      </p>
      {chosen && spot && <CellDetail material={chosen} loss={spot.loss} />}
    </>
  );
}

function Answered({ view }: { view: Exclude<View, "losses"> }) {
  const answer = useSafeguard();
  if (!answer.data) {
    return answer.error ? <Problem of={answer.error} /> : <Waiting>Reckoning …</Waiting>;
  }
  const { worth, failures, left_out } = answer.data;
  if (view === "redundancy") return <Redundancy leftOut={left_out} />;
  return view === "worth" ? <Worth worth={worth} /> : <Failures failures={failures} />;
}
