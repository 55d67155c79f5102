import type { PlanDocument } from "../../api/client";
import { Quantity, RefusedHere, Tick } from "../../plan/fields";
import { ItemFieldset } from "../../plan/ItemFieldset";
import { ClassChoice } from "../../kit/ClassChoice";
import { AllFields } from "../../plan/AllFields";
import { counted } from "../../kit/format";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { useClass } from "../../plan/useClass";
import { AllowLines } from "../../plan/AllowLines";
import { Cards } from "../../plan/Cards";
import { ListPrice } from "./ListPrice";
import { useNewItem } from "../../plan/useNewItem";
import { Fold, More } from "../../kit/Fold";
import { Problem } from "../../kit/Problem";
import { Button } from "../../kit/Button";
import { Select } from "../../kit/Input";

const SHOWN = ["name", "bays", "flash_slots", "ignores_list", "model_id", "allows", "cards"];

/** The boxes: how many bays and flash slots, and what their lists let in. */
export function Boxes() {
  const { mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  const { problem, add: addItem } = useNewItem();
  const boxes = document.plan.boxes ?? [];
  const classes = document.catalogue?.boxes ?? [];
  const add = (after: string) => addItem({ path: "plan/boxes", after });
  return (
    <Fold title="Boxes and bays" said={counted(boxes.length, "box", "boxes")} open>
      {boxes.map((box) => {
        const path = `plan/boxes/${box.id}`;
        const allows = box.allows ?? [];
        return (
          <ItemFieldset key={box.id} field="Box.name" path={path} name={box.name}>
            <Quantity bare field="Box.bays" path={`${path}/bays`} label={`${box.name}: bays`} />
            <span>bays,</span>
            <Quantity
              bare
              field="Box.flash_slots"
              path={`${path}/flash_slots`}
              label={`${box.name}: flash slots`}
            />
            <span>flash slots</span>
            <span className="faint text-sm">written {box.id}:1</span>
            <More of={box.name}>
              <BoxClass box={box} />
              <AllFields model="Box" path={path} skip={SHOWN} />
              <ListPrice typed={box.unit_price} id={box.model_id} />
              <Cards box={box} path={path} />
              <AllowLines box={box} path={path} />
              {allows.length > 0 && <Tick field="Box.ignores_list" path={`${path}/ignores_list`} />}
            </More>
          </ItemFieldset>
        );
      })}
      <Problem of={problem} />
      <RefusedHere path="plan/boxes" />
      {mayWrite && (
        <p className="mt-2 flex flex-wrap items-center gap-3">
          <Button look="text" onClick={() => add("")}>
            Add a box
          </Button>
          {classes.length > 0 && (
            <Select
              className="max-w-72"
              aria-label="Add a box of a class"
              value=""
              onChange={(event) => add(event.target.value)}
            >
              <option value="">or one of a class …</option>
              {classes.map((each) => (
                <option key={each.id} value={each.id}>
                  {each.name}
                </option>
              ))}
            </Select>
          )}
        </p>
      )}
    </Fold>
  );
}

type Box = NonNullable<PlanDocument["plan"]["boxes"]>[number];

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
