import type { CatalogueBox } from "../api/client";
import { AnyField } from "./AllFields";
import { RemoveItem } from "./ItemFieldset";
import { AddItem } from "./AddItem";

/** The card slots of a box, or of a class of boxes: how each is wired, what it holds, and whether it splits its lanes. */
export function Cards({
  box,
  path: owner,
}: {
  box: Pick<CatalogueBox, "name" | "cards">;
  path: string;
}) {
  const cards = box.cards ?? [];
  const list = `${owner}/cards`;
  return (
    <>
      {cards.map((card) => {
        const path = `${list}/${card.id}`;
        const label = (what: string) => `${box.name}, ${card.name}: ${what}`;
        const isCarrier = card.holds === "flash carrier";
        return (
          <div key={card.id} className="flex flex-wrap items-center gap-2 py-1">
            <span>{card.name}</span>
            <AnyField bare field="CardSlot.bus" path={`${path}/bus`} label={label("wired as")} />
            <span>holds</span>
            <AnyField bare field="CardSlot.holds" path={`${path}/holds`} label={label("holds")} />
            {isCarrier && (
              <>
                <AnyField
                  bare
                  field="CardSlot.flash_drives"
                  path={`${path}/flash_drives`}
                  label={label("flash slots on it")}
                />
                <span>flash slots; splits its lanes</span>
                <AnyField
                  bare
                  field="CardSlot.splits"
                  path={`${path}/splits`}
                  label={label("splits its lanes")}
                />
              </>
            )}
            <RemoveItem path={path} name={label("card slot")} />
          </div>
        );
      })}
      <AddItem className="text-sm" path={list}>
        Add a card slot<span className="sr-only"> to {box.name}</span>
      </AddItem>
    </>
  );
}
