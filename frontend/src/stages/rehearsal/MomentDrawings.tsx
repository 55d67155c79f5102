import type { DrawnDay } from "../../api/client";
import { Tabs } from "../../kit/Tabs";
import { useSnapshot } from "../../plan/context";
import { WireDrawing } from "../../plan/WireDrawing";
import { momentAt } from "./lanes";
import { useState } from "react";

type PoolState = DrawnDay["pools"][number];

const SAID: Record<PoolState["state"], string> = {
  degraded: "runs without a disk",
  rebuilding: "is rebuilding",
  scrubbed: "is being scrubbed",
  lost: "has lost its bytes",
};

/** The wires and the bays as they are at the moment that is pointed at. */
export function MomentDrawings({ day, at }: { day: DrawnDay; at: number }) {
  const [shown, setShown] = useState<"wires" | "bays">("wires");
  return (
    <>
      <Tabs
        label="At this moment"
        className="mt-4"
        tabs={[
          { id: "wires", name: "The wires then" },
          { id: "bays", name: "The bays then" },
        ]}
        chosen={shown}
        choose={setShown}
      />
      {shown === "wires" ? <WiresThen day={day} at={at} /> : <BaysThen day={day} at={at} />}
    </>
  );
}

function WiresThen({ day, at }: { day: DrawnDay; at: number }) {
  const { document, evaluation } = useSnapshot();
  const n = momentAt(day.moments_s, at);
  const used = new Map(day.hops.map((hop) => [hop.id, hop.used[n] ?? 0]));
  const standing = day.day.seats.find((seat) =>
    seat.spells.some((spell) => spell.from_s <= at && at < spell.to_s),
  );
  return (
    <WireDrawing
      plan={document.plan}
      hops={evaluation.wiring.hops}
      used={used}
      chosen={standing?.id ?? ""}
      limiting={standing?.blamed_hop_id ?? null}
    />
  );
}

/** Every box with its bays: whose disk is dead is crossed out, and what is done to the others is said. */
function BaysThen({ day, at }: { day: DrawnDay; at: number }) {
  const { document, evaluation } = useSnapshot();
  const now = day.pools.filter((each) => each.from_s <= at && at < each.to_s);
  const nameOf = (id: string) => document.plan.pools.find((pool) => pool.id === id)?.name ?? id;
  return (
    <>
      {evaluation.bays.boxes.map((box) => (
        <figure key={box.id} className="mt-2">
          <figcaption className="font-semibold">{box.name}</figcaption>
          <div className="grid grid-cols-12 gap-1">
            {box.bays.map((bay) => (
              <Bay key={`${bay.slot}${bay.number}`} dead={isDead(box.bays, bay, now)} bay={bay} />
            ))}
          </div>
        </figure>
      ))}
      {evaluation.bays.boxes.length === 0 && <p className="faint mt-2">No box is in the plan.</p>}
      <ul className="mt-2">
        {now.map((each) => (
          <li key={`${each.id} ${each.state}`}>
            {nameOf(each.id)} {SAID[each.state]}.
          </li>
        ))}
        {now.length === 0 && <li className="faint">Every pool is whole then.</li>}
      </ul>
    </>
  );
}

type Bays = ReturnType<typeof useSnapshot>["evaluation"]["bays"]["boxes"][number]["bays"];

/** The first member of a pool without a disk; all of them where the pool has lost its bytes. */
function isDead(bays: Bays, bay: Bays[number], now: readonly PoolState[]): boolean {
  const state = now.find((each) => each.id === bay.occupant_id && each.state !== "scrubbed");
  if (!state || bay.lies !== "member") return false;
  const first = bays.find((each) => each.occupant_id === state.id && each.lies === "member");
  return state.state === "lost" || first === bay;
}

function Bay({ bay, dead }: { bay: Bays[number]; dead: boolean }) {
  const said = `${bay.slot === "bay" ? "Bay" : "Flash slot"} ${bay.number}: ${bay.occupant_name || "free"}${dead ? ", dead" : ""}`;
  return (
    <span className={`bay min-h-7 p-0 bay-${bay.lies.split(" ")[0]}`} title={said}>
      {dead && (
        <svg viewBox="0 0 10 10" preserveAspectRatio="none" className="absolute inset-0 size-full">
          <path d="M1 1 L9 9 M9 1 L1 9" className="stroke-error stroke-[1.5]" />
        </svg>
      )}
      <span className="sr-only">{said}</span>
    </span>
  );
}
