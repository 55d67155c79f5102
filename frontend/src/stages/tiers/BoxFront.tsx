import type { DragEvent, KeyboardEvent } from "react";
import { counted, sizeText } from "../../kit/format";
import { placeOf, written, type BayResult, type BoxResult, type Place } from "./bays";
import type { Bays } from "./useBays";
import { Button } from "../../kit/Button";

const SAID: Record<BayResult["lies"], string> = {
  member: "data, parity",
  spare: "spare",
  cache: "cache",
  "kept for growth": "for growth",
  free: "free",
};
const DRAGGED = "application/x-larder-bay";
const MINE = "outline-2 outline-offset-1 outline-primary";
const PICKED = "outline-3 outline-offset-1 outline-dashed";
const STEPS: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -6, ArrowDown: 6 };

/** What a drive holds in words; of a whole-file pool each drive holds one or the other. */
function said(bay: BayResult): string {
  if (bay.lies === "member" && bay.redundancy_share === 0) return "data";
  return bay.lies === "member" && bay.redundancy_share === 1 ? "parity" : SAID[bay.lies];
}

/** The front of one box, six bays to a row. */
export function BoxFront({
  box,
  bays,
  disabled,
}: {
  box: BoxResult;
  bays: Bays;
  disabled: boolean;
}) {
  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>) => {
    const step = STEPS[event.key];
    if (!step) return;
    event.preventDefault();
    const all = [...event.currentTarget.querySelectorAll("button")];
    const at = all.indexOf(event.target as HTMLButtonElement);
    all[Math.min(Math.max(at + step, 0), all.length - 1)]?.focus();
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
        {box.bays.map((bay) => (
          <Bay
            key={`${bay.slot}${bay.number}`}
            box={box}
            bay={bay}
            bays={bays}
            disabled={disabled}
          />
        ))}
      </div>
    </>
  );
}

interface BayProps {
  box: BoxResult;
  bay: BayResult;
  bays: Bays;
  disabled: boolean;
}

function Bay({ box, bay, bays, disabled }: BayProps) {
  const { swapping } = bays;
  const place = placeOf(box, bay);
  const isMine = bay.occupant_id === bays.occupant.id;
  const isPicked = swapping?.some((p) => written([p]) === written([place])) ?? false;
  // What another pool or cache has is not taken from it by a click; it can be swapped.
  const isOthers = !swapping && !isMine && bay.lies !== "free";
  const onClick = () => {
    if (swapping) bays.swap(place);
    else if (!isOthers) bays.toggle(place);
  };
  return (
    <Button
      look="drawn"
      className={`bay bay-${bay.lies.split(" ")[0]} text-left ${isPicked ? PICKED : isMine ? MINE : ""}`}
      aria-pressed={swapping ? isPicked : isMine}
      disabled={disabled}
      aria-disabled={isOthers}
      data-path={`plan/boxes/${box.id}/bays/${bay.slot}-${bay.number}`}
      draggable={!disabled && bay.lies !== "free"}
      {...dragging(place, bays.exchange)}
      onClick={onClick}
    >
      {bay.redundancy_share > 0 && (
        <i className="bay-parity" style={{ width: `${bay.redundancy_share * 100}%` }} />
      )}
      <span className="sr-only">{bay.slot === "bay" ? "Bay" : "Flash slot"}</span>
      <b>
        {bay.slot === "bay" ? "" : "f"}
        {bay.number}
      </b>
      <span className="sr-only">{`of ${box.name}: ${bay.occupant_name ? `${bay.occupant_name},` : ""}`}</span>
      <span>{bay.drive_bytes ? sizeText(bay.drive_bytes) : ""}</span>
      <span>{said(bay)}</span>
      {!bay.allowed && <b>not on the list</b>}
      {isPicked && <b>swaps</b>}
    </Button>
  );
}

/** A drive drawn from one bay into another changes places with what is there. */
const dragging = (place: Place, exchange: (from: Place, to: Place) => void) => ({
  onDragStart: (event: DragEvent) => {
    event.dataTransfer.setData(DRAGGED, JSON.stringify(place));
    event.dataTransfer.effectAllowed = "move";
  },
  onDragOver: (event: DragEvent) => {
    if (event.dataTransfer.types.includes(DRAGGED)) event.preventDefault();
  },
  onDrop: (event: DragEvent) => {
    event.preventDefault();
    exchange(JSON.parse(event.dataTransfer.getData(DRAGGED)) as Place, place);
  },
});
