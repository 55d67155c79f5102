import { useState } from "react";

import type { CatalogueList, PlanDocument } from "../../api/client";
import { AllFields } from "../../plan/AllFields";
import { Quantity, RefusedHere, TextField } from "../../plan/fields";
import { RemoveItem } from "../../plan/ItemFieldset";
import { dateText, moneyText, rateNumber, sizeText } from "../../kit/format";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { freshId } from "../../plan/patch";
import { AllowLines } from "../../plan/AllowLines";
import { Cards } from "../../plan/Cards";
import { StandardsBar } from "../../plan/StandardsBar";
import { Bring } from "./Bring";

type Catalogue = NonNullable<PlanDocument["catalogue"]>;
type Drive = NonNullable<Catalogue["drives"]>[number];
type Box = NonNullable<Catalogue["boxes"]>[number];
type Price = NonNullable<Catalogue["prices"]>[number];

const LISTS: [CatalogueList, string][] = [
  ["drives", "Drives"],
  ["boxes", "Boxes"],
  ["prices", "Price list"],
];
const NEW_DRIVE = {
  name: "New class of drive",
  kind: "hdd",
  size_bytes: 12e12,
  read_bytes_per_s: 240e6,
  write_bytes_per_s: 235e6,
};
const NEW_BOX = { name: "New class of box", bays: 8, cards: [], allows: [] };

/** The classes of drives and boxes that a plan is built of, and what they cost on which day. */
export function CatalogueStage() {
  const [list, setList] = useState<CatalogueList>("drives");
  const { document } = useSnapshot();
  const catalogue = document.catalogue ?? {};
  return (
    <section aria-label="Catalogue" className="max-w-6xl p-6">
      <h2>Catalogue</h2>
      <p className="faint max-w-prose">
        Classes without makers. A pool or a box takes its figures from its class once; what is then
        changed there stays its own. Prices are the studio’s, by day, and this plan counts the
        latest one up to {dateText(document.as_of)}.
      </p>
      <StandardsBar part="catalogue" />
      <p className="mt-3 flex gap-5">
        {LISTS.map(([slug, name]) => (
          <button
            key={slug}
            type="button"
            className={slug === list ? "plain-button font-semibold" : "text-button"}
            aria-pressed={slug === list}
            onClick={() => setList(slug)}
          >
            {name} ({(catalogue[slug] ?? []).length})
          </button>
        ))}
      </p>
      {list === "drives" && <Drives catalogue={catalogue} />}
      {list === "boxes" && <Boxes catalogue={catalogue} />}
      {list === "prices" && <Prices catalogue={catalogue} />}
      <RefusedHere path="catalogue" />
      <Bring list={list} />
    </section>
  );
}

function PriceCell({ id }: { id: string }) {
  const { evaluation } = useSnapshot();
  const price = evaluation.prices[id];
  return <td className="num">{price ? moneyText(price.amount, price.currency) : "–"}</td>;
}

/** A row that opens to every field of its class. */
function ClassRow({
  name,
  model,
  path,
  inside,
  children,
}: {
  name: string;
  model: string;
  path: string;
  inside?: React.ReactNode;
  children: React.ReactNode;
}) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <tr>
        <td>
          <button
            type="button"
            className="text-button text-left"
            aria-expanded={open}
            onClick={() => setOpen(!open)}
          >
            {name}
          </button>
        </td>
        {children}
        <td>
          <RemoveItem path={path} name={name} />
        </td>
      </tr>
      {open && (
        <tr>
          <td colSpan={8}>
            <div className="grid gap-x-10 md:grid-cols-2">
              <AllFields model={model} path={path} skip={["cards", "allows"]} />
            </div>
            {inside}
          </td>
        </tr>
      )}
    </>
  );
}

function Heads({ names }: { names: readonly string[] }) {
  return (
    <thead>
      <tr>
        {names.map((name, n) => (
          <th key={name} scope="col" className={n ? "num" : ""}>
            {name}
          </th>
        ))}
        <th scope="col">
          <span className="sr-only">Remove</span>
        </th>
      </tr>
    </thead>
  );
}

function Drives({ catalogue }: { catalogue: Catalogue }) {
  const drives: Drive[] = catalogue.drives ?? [];
  return (
    <>
      <table className="ledger mt-3" aria-label="Drives">
        <Heads
          names={["Class of drive", "Size", "Reads, MB/s", "Writes", "Recording", "Days", "Price"]}
        />
        <tbody>
          {drives.map((drive) => (
            <ClassRow
              key={drive.id}
              name={drive.name}
              model="CatalogueDrive"
              path={`catalogue/drives/${drive.id}`}
            >
              <td className="num">{sizeText(drive.size_bytes)}</td>
              <td className="num">{rateNumber(drive.read_bytes_per_s)}</td>
              <td className="num">{rateNumber(drive.write_bytes_per_s)}</td>
              <td className="num">
                {drive.kind === "ssd" ? "flash" : (drive.recording ?? "").toUpperCase()}
              </td>
              <td className="num">{drive.delivery_days ?? "–"}</td>
              <PriceCell id={drive.id} />
            </ClassRow>
          ))}
        </tbody>
      </table>
      <AddClass list="drives" taken={drives} word="class" value={NEW_DRIVE}>
        Add a class of drive
      </AddClass>
    </>
  );
}

function Boxes({ catalogue }: { catalogue: Catalogue }) {
  const boxes: Box[] = catalogue.boxes ?? [];
  return (
    <>
      <table className="ledger mt-3" aria-label="Boxes">
        <Heads
          names={["Class of box", "Bays", "Flash slots", "Memory", "Processor", "Noise", "Price"]}
        />
        <tbody>
          {boxes.map((box) => (
            <ClassRow
              key={box.id}
              name={box.name}
              model="CatalogueBox"
              path={`catalogue/boxes/${box.id}`}
              inside={
                <>
                  <Cards box={box} path={`catalogue/boxes/${box.id}`} />
                  <AllowLines box={box} path={`catalogue/boxes/${box.id}`} />
                </>
              }
            >
              <td className="num">
                {box.bays} {box.bay_bus}
              </td>
              <td className="num">
                {box.flash_slots} {box.flash_bus}
              </td>
              <td className="num">{box.memory_bytes ? sizeText(box.memory_bytes) : "–"}</td>
              <td className="num">{box.processor || "–"}</td>
              <td className="num">{box.noise_dba ? `${box.noise_dba} dB(A)` : "–"}</td>
              <PriceCell id={box.id} />
            </ClassRow>
          ))}
        </tbody>
      </table>
      <AddClass list="boxes" taken={boxes} word="box" value={NEW_BOX}>
        Add a class of box
      </AddClass>
    </>
  );
}

function Prices({ catalogue }: { catalogue: Catalogue }) {
  const { document } = useSnapshot();
  const prices = [...(catalogue.prices ?? [])].sort((a, b) =>
    `${a.item_id} ${b.priced_on}`.localeCompare(`${b.item_id} ${a.priced_on}`),
  );
  const classes = [...(catalogue.drives ?? []), ...(catalogue.boxes ?? [])];
  const names = new Map(classes.map((each) => [each.id, each.name]));
  return (
    <>
      <table className="ledger mt-3" aria-label="Price list">
        <Heads names={["Class", `Each, ${document.currency}`, "Price of"]} />
        <tbody>
          {prices.map((price) => {
            const path = `catalogue/prices/${price.id}`;
            const name = names.get(price.item_id) ?? price.item_id;
            const label = `${name}, ${price.priced_on}`;
            return (
              <tr key={price.id}>
                <td>{name}</td>
                <td className="num">
                  <Quantity
                    bare
                    field="Price.amount"
                    path={`${path}/amount`}
                    label={`${label}: price`}
                  />
                </td>
                <td className="num">
                  <TextField
                    bare
                    type="date"
                    field="Price.priced_on"
                    path={`${path}/priced_on`}
                    label={`${label}: price of`}
                  />
                </td>
                <td>
                  <RemoveItem path={path} name={label} />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <AddPrice classes={classes} taken={prices} />
    </>
  );
}

function AddClass({
  list,
  taken,
  word,
  value,
  children,
}: {
  list: CatalogueList;
  taken: readonly { id: string }[];
  word: string;
  value: object;
  children: string;
}) {
  const { session, mayWrite } = usePlanTools();
  if (!mayWrite) return null;
  const add = () =>
    session.change({
      op: "add",
      path: `catalogue/${list}`,
      value: { ...value, id: freshId(word, taken) },
    });
  return (
    <button type="button" className="text-button mt-2" onClick={add}>
      {children}
    </button>
  );
}

/** A price of today for a class; older ones stay in the list. */
function AddPrice({
  classes,
  taken,
}: {
  classes: readonly { id: string; name: string }[];
  taken: readonly Price[];
}) {
  const { session, mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  if (!mayWrite || !classes.length) return null;
  const add = (id: string) =>
    session.change({
      op: "add",
      path: "catalogue/prices",
      value: {
        id: freshId(`${id}-${document.as_of.replaceAll("-", "")}`, taken),
        item_id: id,
        amount: "0.00",
        currency: document.currency,
        priced_on: document.as_of,
      },
    });
  return (
    <select
      className="field mt-2 max-w-80"
      aria-label="Add a price of a class"
      value=""
      onChange={(event) => add(event.target.value)}
    >
      <option value="">Add a price of …</option>
      {classes.map((each) => (
        <option key={each.id} value={each.id}>
          {each.name}
        </option>
      ))}
    </select>
  );
}
