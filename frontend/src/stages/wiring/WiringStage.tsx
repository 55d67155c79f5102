import { useState } from "react";

import type { Evaluation, Trouble } from "../../api/client";
import { Select } from "../../kit/Input";
import { Problem } from "../../kit/Problem";
import { useSnapshot } from "../../plan/context";
import { Cables } from "./Cables";
import { Fixes } from "./Fixes";
import { HopTable } from "./HopTable";
import { Left } from "./Left";
import { Shares } from "./Shares";
import { useShares } from "./useShares";
import { WireDrawing } from "../../plan/WireDrawing";
import { Wires } from "./Wires";

const TROUBLES: [Trouble, string][] = [
  ["", "all drives well"],
  ["a dead disk", "a dead disk in every pool"],
  ["a rebuild", "every pool rebuilding"],
  ["a scrub", "every pool scrubbing"],
];

/** The way from the seats to the pools: what it is made of, what everybody gets, and what would help. */
export function WiringStage() {
  return (
    <div className="ask-answer">
      <section aria-label="Wires">
        <Wires />
      </section>
      <section aria-label="From the seats to the pools">
        <TheWay />
      </section>
    </div>
  );
}

/** The seat that has the least in hand. */
function tightest(seats: Evaluation["wiring"]["seats"]): string {
  const asked = seats.filter((s) => s.ratio !== null && s.ratio !== undefined);
  return asked.toSorted((a, b) => (a.ratio ?? 0) - (b.ratio ?? 0))[0]?.id ?? "";
}

function TheWay() {
  const { document, evaluation } = useSnapshot();
  const { wiring, plugs } = evaluation;
  const [state, setState] = useState("sized");
  const [trouble, setTrouble] = useState<Trouble>("");
  const [picked, choose] = useState("");
  const shares = useShares(state, trouble);
  const chosen = wiring.seats.some((s) => s.id === picked) ? picked : tightest(wiring.seats);
  const seat = wiring.seats.find((s) => s.id === chosen);
  const used = new Map(shares.data?.hops.map((hop) => [hop.id, hop.used]));
  return (
    <>
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <h2>From the seats to the pools</h2>
        <States state={state} setState={setState} trouble={trouble} setTrouble={setTrouble} />
      </div>
      <p className="faint">
        Thickness is bandwidth, a step for each doubling; the filled part is what is used
        {shares.data && ` by ${shares.data.said}`}.
      </p>
      <WireDrawing
        plan={document.plan}
        hops={wiring.hops}
        used={used}
        chosen={chosen}
        limiting={seat?.limiting_hop_id ?? null}
        choose={choose}
      />
      {shares.isError && <Problem of={shares.error} />}
      {shares.data && (
        <Shares
          shares={shares.data}
          wiring={wiring}
          hasStorage={evaluation.tiers.pools.length > 0}
          chosen={chosen}
          choose={choose}
        />
      )}
      {chosen && <Fixes key={chosen} seatId={chosen} />}
      <Left plugs={plugs} />
      <HopTable wiring={wiring} />
      <Cables />
    </>
  );
}

/** Who works at once, and what is the matter with the pools. */
function States({
  state,
  setState,
  trouble,
  setTrouble,
}: {
  state: string;
  setState: (state: string) => void;
  trouble: Trouble;
  setTrouble: (trouble: Trouble) => void;
}) {
  const { document } = useSnapshot();
  const parts = document.plan.brief.day_parts ?? [];
  return (
    <span className="flex flex-wrap gap-2">
      <Select aria-label="Who works" value={state} onChange={(e) => setState(e.target.value)}>
        <option value="sized">as it is sized</option>
        <option value="all">everybody at peak</option>
        {parts.map((part) => (
          <option key={part.id} value={part.id}>
            everybody in {part.name}
          </option>
        ))}
      </Select>
      <Select
        aria-label="The drives"
        value={trouble}
        onChange={(e) => setTrouble(e.target.value as Trouble)}
      >
        {TROUBLES.map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </Select>
    </span>
  );
}
