import { useState } from "react";

import type { CatalogueList, PlanDocument } from "../../api/client";
import { AllFields } from "../../plan/AllFields";
import { Quantity, RefusedHere, TextField } from "../../plan/fields";
import { RemoveItem } from "../../plan/ItemFieldset";
import { dateText, moneyText, rateNumber, sizeText } from "../../kit/format";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { AllowLines } from "../../plan/AllowLines";
import { Cards } from "../../plan/Cards";
import { StandardsBar } from "../../plan/StandardsBar";
import { Bring } from "./Bring";
import { OwnFigures } from "../../plan/OwnFigures";
import { AddItem } from "../../plan/AddItem";
import { useNewItem } from "../../plan/useNewItem";
import { Tabs } from "../../kit/Tabs";
import { Button } from "../../kit/Button";
import { Heads, Table } from "../../kit/Table";
import { Offer } from "../../kit/Input";
import { Problem } from "../../kit/Problem";

type Catalogue = NonNullable<PlanDocument["catalogue"]>;
type Drive = NonNullable<Catalogue["drives"]>[number];
type Box = NonNullable<Catalogue["boxes"]>[number];

const LISTS: [CatalogueList, string][] = [
  ["drives", "Drives"],
  ["boxes", "Boxes"],
  ["prices", "Price list"],
];

/** The classes of drives and boxes that a plan is built of, and what they cost on which day. */
export function CatalogueStage() {
  const [list, setList] = useState<CatalogueList>("drives");
  const { document } = useSnapshot();
  const catalogue = document.catalogue ?? {};
  return (
    <section aria-label="Catalogue" className="max-w-6xl p-6">
      <h2>Catalogue</h2>
      <p className="faint max-w-prose">
        Classes without makers. A pool, cache or box takes its figures from its class once and keeps
        them; where the two differ, both say so. Prices are the studio’s, by day, and this plan
        counts the latest one up to {dateText(document.as_of)}.
      </p>
      <StandardsBar part="catalogue" />
      <Tabs
        className="mt-3"
        label="Lists"
        tabs={LISTS.map(([id, name]) => ({
          id,
          name: `${name} (${(catalogue[id] ?? []).length})`,
        }))}
        chosen={list}
        choose={setList}
      />
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
          <Button
            look="text"
            className="text-left"
            aria-expanded={open}
            onClick={() => setOpen(!open)}
          >
            {name}
          </Button>
        </td>
        {children}
        <td>
          <RemoveItem path={path} name={name} />
        </td>
      </tr>
      {open && (
        <tr>
          <td colSpan={8}>
            <OwnFigures classId={path.slice(path.lastIndexOf("/") + 1)} />
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

function Drives({ catalogue }: { catalogue: Catalogue }) {
  const drives: Drive[] = catalogue.drives ?? [];
  return (
    <>
      <Table className="mt-3" aria-label="Drives">
        <Heads
          of={[
            "Class of drive",
            "#Size",
            "#Reads, MB/s",
            "#Writes",
            "#Recording",
            "#Days",
            "#Price",
            "-Remove",
          ]}
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
      </Table>
      <AddItem className="mt-2" path="catalogue/drives">
        Add a class of drive
      </AddItem>
    </>
  );
}

function Boxes({ catalogue }: { catalogue: Catalogue }) {
  const boxes: Box[] = catalogue.boxes ?? [];
  return (
    <>
      <Table className="mt-3" aria-label="Boxes">
        <Heads
          of={[
            "Class of box",
            "#Bays",
            "#Flash slots",
            "#Memory",
            "#Processor",
            "#Noise",
            "#Price",
            "-Remove",
          ]}
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
      </Table>
      <AddItem className="mt-2" path="catalogue/boxes">
        Add a class of box
      </AddItem>
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
      <Table className="mt-3" aria-label="Price list">
        <Heads of={["Class", `#Each, ${document.currency}`, "#Price of", "-Remove"]} />
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
      </Table>
      <AddPrice classes={classes} />
    </>
  );
}

/** A price of today for a class; older ones stay in the list. */
function AddPrice({ classes }: { classes: readonly { id: string; name: string }[] }) {
  const { mayWrite } = usePlanTools();
  const { problem, add } = useNewItem();
  if (!mayWrite || !classes.length) return null;
  return (
    <>
      <Offer
        className="mt-2 max-w-80"
        label="Add a price of a class"
        words="Add a price of …"
        from={classes}
        onChoose={(item_id) => add({ path: "catalogue/prices", given: { item_id } })}
      />
      <Problem of={problem} />
    </>
  );
}
