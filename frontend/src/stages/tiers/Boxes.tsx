import type { PlanDocument } from "../../api/client";
import { Choice, RefusedHere, Tick } from "../../plan/fields";
import { ItemFieldset } from "../../plan/ItemFieldset";
import { ClassChoice } from "../../kit/ClassChoice";
import { AllFields, fieldsIn } from "../../plan/AllFields";
import { counted } from "../../kit/format";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { OwnFigures } from "../../plan/OwnFigures";
import { useClass } from "../../plan/useClass";
import { AllowLines } from "../../plan/AllowLines";
import { Cards } from "../../plan/Cards";
import { ListPrice } from "./ListPrice";
import { useWhere } from "../../plan/useWhere";
import { useNewItem } from "../../plan/useNewItem";
import { Fold, More } from "../../kit/Fold";
import { Problem } from "../../kit/Problem";
import { Button } from "../../kit/Button";
import { Offer } from "../../kit/Input";

const SHOWN = [
  "name",
  "bays",
  "flash_slots",
  "ignores_list",
  "model_id",
  "allows",
  "cards",
  "place_id",
];

type Box = NonNullable<PlanDocument["plan"]["boxes"]>[number];

/** The boxes: how many bays and flash slots, and what their lists let in. */
export function Boxes() {
  const { mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  const boxes = document.plan.boxes ?? [];
  return (
    <Fold title="Boxes and bays" said={counted(boxes.length, "box", "boxes")} open>
      {boxes.map((box) => (
        <OneBox key={box.id} box={box} />
      ))}
      <RefusedHere path="plan/boxes" />
      {mayWrite && <AddBox />}
    </Fold>
  );
}

function OneBox({ box }: { box: Box }) {
  const path = `plan/boxes/${box.id}`;
  const its = fieldsIn("Box", path, box.name);
  const { places } = useWhere();
  const hasList = (box.allows ?? []).length > 0;
  return (
    <ItemFieldset field="Box.name" path={path} name={box.name}>
      {its("bays", "bays")}
      <span>bays,</span>
      {its("flash_slots", "flash slots")}
      <span>flash slots</span>
      <span className="faint text-sm">written {box.id}:1</span>
      <More of={box.name}>
        <BoxClass box={box} />
        <OwnFigures path={path} />
        <AllFields model="Box" path={path} skip={SHOWN} />
        <Choice field="Box.place_id" path={`${path}/place_id`} options={places} />
        <ListPrice typed={box.unit_price} id={box.model_id} />
        <Cards box={box} path={path} />
        <AllowLines box={box} path={path} />
        {hasList && <Tick field="Box.ignores_list" path={`${path}/ignores_list`} />}
      </More>
    </ItemFieldset>
  );
}

function AddBox() {
  const { document } = useSnapshot();
  const { problem, add } = useNewItem();
  const classes = document.catalogue?.boxes ?? [];
  return (
    <>
      <Problem of={problem} />
      <p className="mt-2 flex flex-wrap items-center gap-3">
        <Button look="text" onClick={() => add({ path: "plan/boxes" })}>
          Add a box
        </Button>
        {classes.length > 0 && (
          <Offer
            className="max-w-72"
            label="Add a box of a class"
            words="or one of a class …"
            from={classes}
            onChoose={(after) => add({ path: "plan/boxes", after })}
          />
        )}
      </p>
    </>
  );
}

/** The class of a box; choosing one makes it what the class is. */
function BoxClass({ box }: { box: Box }) {
  const { mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  const { problem, takeClass } = useClass();
  const classes = document.catalogue?.boxes ?? [];
  if (!classes.length) return null;
  return (
    <ClassChoice
      id={`model-${box.id}`}
      label="Class of box"
      classes={classes}
      value={box.model_id ?? ""}
      disabled={!mayWrite}
      problem={problem}
      onChoose={(model) => takeClass(`plan/boxes/${box.id}`, model)}
    />
  );
}
