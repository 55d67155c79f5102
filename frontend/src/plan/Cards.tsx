import type { CatalogueBox } from "../api/client";
import { fieldsIn } from "./AllFields";
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
        const whole = `${box.name}, ${card.name}`;
        const its = fieldsIn("CardSlot", path, whole);
        const isCarrier = card.holds === "flash carrier";
        return (
          <div key={card.id} className="flex flex-wrap items-center gap-2 py-1">
            <span>{card.name}</span>
            {its("bus", "wired as")}
            <span>holds</span>
            {its("holds", "holds")}
            {card.holds === "network card" && (
              <>
                <span>with</span>
                {its("ports", "ports on it")}
              </>
            )}
            {isCarrier && (
              <>
                {its("flash_drives", "flash slots on it")}
                <span>flash slots; splits its lanes</span>
                {its("splits", "splits its lanes")}
              </>
            )}
            <RemoveItem path={path} name={`${whole}: card slot`} />
          </div>
        );
      })}
      <AddItem className="text-sm" path={list}>
        Add a card slot<span className="sr-only"> to {box.name}</span>
      </AddItem>
    </>
  );
}
