import { useState, type KeyboardEvent } from "react";

import type { Operation, PlanDocument } from "../../api/client";
import { counted, sizeText } from "../../kit/format";
import { usePlanTools, useSnapshot } from "../../plan/context";
import {
  freePlaces,
  placeOf,
  placesOf,
  swapped,
  toggled,
  written,
  type BayResult,
  type BoxResult,
  type Place,
} from "./bays";
import { Button } from "../../kit/Button";

type Pool = PlanDocument["plan"]["pools"][number];

const SAID: Record<BayResult["lies"], string> = {
  member: "data, parity",
  spare: "spare",
  cache: "cache",
  "kept for growth": "for growth",
  free: "free",
};

/** What a drive holds in words; of a whole-file pool each drive holds one or the other. */
function said(bay: BayResult): string {
  if (bay.lies === "member" && bay.redundancy_share === 0) return "data";
  return bay.lies === "member" && bay.redundancy_share === 1 ? "parity" : SAID[bay.lies];
}

const DRAGGED = "application/x-larder-bay";
const MOST_DRAWN = 2;
const MINE = "outline-2 outline-offset-1 outline-primary";
const PICKED = "outline-3 outline-offset-1 outline-dashed";

interface Occupant {
  id: string;
  name: string;
  path: string;
  slot: BayResult["slot"];
}

/** The fronts of the boxes; a bay is given to the pool that is shown, or taken from it, by key or pointer. */
export function BoxFronts({ pool }: { pool: Pool }) {
  const { session, mayWrite } = usePlanTools();
  const { document, evaluation } = useSnapshot();
  const { boxes, unplaced } = evaluation.bays;
  const cache = (document.plan.caches ?? []).find((c) => c.pool_id === pool.id);
  const occupants: Occupant[] = [
    { id: pool.id, name: pool.name, path: `plan/pools/${pool.id}/bays`, slot: "bay" },
    ...(cache
      ? [
          {
            id: cache.id,
            name: cache.name,
            path: `plan/caches/${cache.id}/bays`,
            slot: "flash slot" as const,
          },
        ]
      : []),
  ];
  const [chosen, setChosen] = useState("");
  /** While two bays are being swapped: the first of them, once it is chosen. */
  const [swapping, setSwapping] = useState<Place[] | null>(null);
  const occupant = occupants.find((o) => o.id === chosen) ?? occupants[0];
  if (!boxes.length || !occupant) return null;
  const pathOf = (id: string) =>
    `plan/${document.plan.pools.some((p) => p.id === id) ? "pools" : "caches"}/${id}/bays`;
  const exchange = (one: Place, other: Place) => {
    const changes = swapped(boxes, one, other).map(({ id, places }): Operation => ({
      op: "set",
      path: pathOf(id),
      value: written(places),
    }));
    if (changes.length) session.change(...changes);
    setSwapping(null);
  };
  const swap = (place: Place) => {
    const first = swapping?.[0];
    if (first) exchange(first, place);
    else setSwapping([place]);
  };
  const now = placesOf(boxes, occupant.id);
  const put = (places: Place[]) => session.set(occupant.path, written(places));
  const missing = unplaced[occupant.id] ?? 0;
  // Of many boxes only those are drawn that matter here: with its drives, or with room for the rest of them.
  const shown =
    boxes.length <= MOST_DRAWN
      ? boxes
      : boxes.filter(
          (box) =>
            box.bays.some((bay) => bay.occupant_id === occupant.id) ||
            (missing > 0 && box.free_bays > 0),
        );
  const hasSlots = boxes.some((b) => b.bays.some((bay) => bay.slot === occupant.slot));
  const free = freePlaces(boxes, hasSlots ? occupant.slot : "bay", missing);
  return (
    // Escape is for whoever is in the middle of a swap, wherever in the section.
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions
    <section
      aria-label="Box fronts"
      className="mb-5"
      onKeyDown={(event) => event.key === "Escape" && setSwapping(null)}
    >
      {shown.map((box) => (
        <Front
          key={box.id}
          box={box}
          mine={occupant.id}
          disabled={!mayWrite}
          swapping={swapping}
          onSwap={swap}
          onDrop={exchange}
          onToggle={(place) => put(toggled(now, place))}
        />
      ))}
      <p className="faint mt-1 flex flex-wrap gap-x-5 text-sm">
        <Key name="bay-member" says="data" />
        <Key name="bay-member" parity says="copies or parity" />
        <Key name="bay-spare" says="hot spare" />
        <Key name="bay-cache" says="cache" />
        <Key name="bay-free" says="free" />
      </p>
      <p className="faint text-sm">
        {swapping
          ? swapping.length
            ? "Now the bay it changes places with; Escape leaves everything as it is."
            : "Choose the first of the two bays."
          : `A bay is given to ${occupant.name} or taken from it with Enter; arrows move between bays; a drive is drawn into another bay.`}
        {missing > 0 && ` ${counted(missing, "drive")} of ${occupant.name} in no bay yet.`}
      </p>
      {mayWrite && (
        <p className="mt-1 flex flex-wrap gap-x-5">
          {occupants.length > 1 &&
            occupants.map((each) => (
              <Button
                key={each.id}
                look={each.id === occupant.id ? "plain" : "text"}
                aria-pressed={each.id === occupant.id}
                onClick={() => setChosen(each.id)}
              >
                Place {each.name}
              </Button>
            ))}
          {free.length > 0 && (
            <Button look="text" onClick={() => put([...now, ...free])}>
              Fill the next {counted(free.length, "free bay")}
            </Button>
          )}
          <Button
            look="text"
            aria-pressed={swapping !== null}
            onClick={() => setSwapping(swapping ? null : [])}
          >
            Swap two bays
          </Button>
          {now.length > 0 && (
            <Button look="text" onClick={() => put([])}>
              Take {occupant.name} out
            </Button>
          )}
        </p>
      )}
    </section>
  );
}

/** A line of the drawing's key; the pattern says what the word says. */
function Key({ name, says, parity = false }: { name: string; says: string; parity?: boolean }) {
  return (
    <span className="flex items-center gap-1.5">
      <span className={`bay h-[0.9rem] min-h-0 w-[1.4rem] p-0 ${name}`} aria-hidden="true">
        {parity && <i className="bay-parity w-full" />}
      </span>
      {says}
    </span>
  );
}

const STEPS: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -6, ArrowDown: 6 };

function Front({
  box,
  mine,
  disabled,
  swapping,
  onSwap,
  onDrop,
  onToggle,
}: {
  box: BoxResult;
  mine: string;
  disabled: boolean;
  swapping: Place[] | null;
  onSwap: (place: Place) => void;
  onDrop: (from: Place, to: Place) => void;
  onToggle: (place: Place) => void;
}) {
  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>) => {
    const step = STEPS[event.key];
    if (!step) return;
    event.preventDefault();
    const bays = [...event.currentTarget.querySelectorAll("button")];
    const at = bays.indexOf(event.target as HTMLButtonElement);
    bays[Math.min(Math.max(at + step, 0), bays.length - 1)]?.focus();
  };
  return (
    <>
      <h3 className="mt-2 flex justify-between">
        {box.name}
        <span className="faint text-sm font-normal">{counted(box.free_bays, "free bay")}</span>
      </h3>
      {/* Arrow keys move inside the group; each bay is a button of its own. */}
      {/* eslint-disable-next-line jsx-a11y/no-static-element-interactions */}
      <div className="grid grid-cols-6 gap-[5px] p-[3px]" onKeyDown={onKeyDown}>
        {box.bays.map((bay) => {
          const isMine = bay.occupant_id === mine;
          const place = placeOf(box, bay);
          const isPicked = swapping?.some((p) => written([p]) === written([place])) ?? false;
          // What another pool or cache has is not taken from it by a click; it can be swapped.
          const others = !swapping && !isMine && bay.lies !== "free";
          const slot = bay.slot === "bay" ? "Bay" : "Flash slot";
          const who = bay.occupant_name ? `${bay.occupant_name},` : "";
          return (
            <Button
              look="drawn"
              key={`${bay.slot}${bay.number}`}
              className={`bay text-left bay-${bay.lies.split(" ")[0]} ${isPicked ? PICKED : isMine ? MINE : ""}`}
              aria-pressed={swapping ? isPicked : isMine}
              disabled={disabled}
              aria-disabled={others}
              draggable={!disabled && bay.lies !== "free"}
              onDragStart={(event) => {
                event.dataTransfer.setData(DRAGGED, JSON.stringify(place));
                event.dataTransfer.effectAllowed = "move";
              }}
              onDragOver={(event) => {
                if (event.dataTransfer.types.includes(DRAGGED)) event.preventDefault();
              }}
              onDrop={(event) => {
                event.preventDefault();
                onDrop(JSON.parse(event.dataTransfer.getData(DRAGGED)) as Place, place);
              }}
              onClick={() => {
                if (swapping) onSwap(place);
                else if (!others) onToggle(place);
              }}
            >
              {bay.redundancy_share > 0 && (
                <i className="bay-parity" style={{ width: `${bay.redundancy_share * 100}%` }} />
              )}
              <span className="sr-only">{slot}</span>
              <b>
                {bay.slot === "bay" ? "" : "f"}
                {bay.number}
              </b>
              <span className="sr-only">{`of ${box.name}: ${who}`}</span>
              <span>{bay.drive_bytes ? sizeText(bay.drive_bytes) : ""}</span>
              <span>{said(bay)}</span>
              {!bay.allowed && <b>not on the list</b>}
              {isPicked && <b>swaps</b>}
            </Button>
          );
        })}
      </div>
    </>
  );
}
