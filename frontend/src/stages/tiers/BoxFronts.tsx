import type { PlanDocument } from "../../api/client";
import { counted } from "../../kit/format";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { BoxFront } from "./BoxFront";
import { useBays, type Bays } from "./useBays";
import { Button } from "../../kit/Button";

type Pool = PlanDocument["plan"]["pools"][number];

/** The fronts of the boxes; a bay is given to the pool that is shown, or taken from it, by key or pointer. */
export function BoxFronts({ pool }: { pool: Pool }) {
  const { mayWrite } = usePlanTools();
  const { evaluation } = useSnapshot();
  const bays = useBays(pool);
  if (!evaluation.bays.boxes.length) return null;
  return (
    // Escape is for whoever is in the middle of a swap, wherever in the section.
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions
    <section
      aria-label="Box fronts"
      className="mb-5"
      onKeyDown={(event) => event.key === "Escape" && bays.setSwapping(null)}
    >
      {bays.shown.map((box) => (
        <BoxFront key={box.id} box={box} bays={bays} disabled={!mayWrite} />
      ))}
      <p className="faint mt-1 flex flex-wrap gap-x-5 text-sm">
        <Mark name="bay-member" says="data" />
        <Mark name="bay-member" parity says="copies or parity" />
        <Mark name="bay-spare" says="hot spare" />
        <Mark name="bay-cache" says="cache" />
        <Mark name="bay-free" says="free" />
      </p>
      <p className="faint text-sm">{told(bays)}</p>
      {mayWrite && <Placing bays={bays} />}
    </section>
  );
}

/** What the next press does, and what lies nowhere yet. */
function told({ swapping, occupant, missing }: Bays): string {
  const left =
    missing > 0 ? ` ${counted(missing, "drive")} of ${occupant.name} in no bay yet.` : "";
  if (!swapping)
    return `A bay is given to ${occupant.name} or taken from it with Enter; arrows move between bays; a drive is drawn into another bay.${left}`;
  return swapping.length
    ? `Now the bay it changes places with; Escape leaves everything as it is.${left}`
    : `Choose the first of the two bays.${left}`;
}

function Placing({ bays }: { bays: Bays }) {
  const { occupants, occupant, free, now, swapping } = bays;
  return (
    <p className="mt-1 flex flex-wrap gap-x-5">
      {occupants.length > 1 &&
        occupants.map((each) => (
          <Button
            key={each.id}
            look={each.id === occupant.id ? "plain" : "text"}
            aria-pressed={each.id === occupant.id}
            onClick={() => bays.choose(each.id)}
          >
            Place {each.name}
          </Button>
        ))}
      {free.length > 0 && (
        <Button look="text" onClick={bays.fill}>
          Fill the next {counted(free.length, "free bay")}
        </Button>
      )}
      <Button
        look="text"
        aria-pressed={swapping !== null}
        onClick={() => bays.setSwapping(swapping ? null : [])}
      >
        Swap two bays
      </Button>
      {now.length > 0 && (
        <Button look="text" onClick={bays.empty}>
          Take {occupant.name} out
        </Button>
      )}
    </p>
  );
}

/** A line of the drawing's key; the pattern says what the word says. */
function Mark({ name, says, parity = false }: { name: string; says: string; parity?: boolean }) {
  return (
    <span className="flex items-center gap-1.5">
      <span className={`bay h-[0.9rem] min-h-0 w-[1.4rem] p-0 ${name}`} aria-hidden="true">
        {parity && <i className="bay-parity w-full" />}
      </span>
      {says}
    </span>
  );
}
