import { Quantity, RefusedHere, Tick } from "../../plan/fields";
import { Fold, More } from "../../kit/Fold";
import { ItemFieldset } from "../../plan/ItemFieldset";
import { ClassChoice } from "../../kit/ClassChoice";
import { AllFields } from "../../plan/AllFields";
import { counted } from "../../kit/format";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { freshId } from "../../plan/patch";
import { AllowLines } from "../../plan/AllowLines";
import { Cards } from "../../plan/Cards";
import { ListPrice } from "./ListPrice";

/** What a box has where nothing is said of it. */
const WHOLE = { allows: [], cards: [], ignores_list: false, unit_price: null };
const SHOWN = ["name", "bays", "flash_slots", "ignores_list", "model_id", "allows", "cards"];

/** The boxes: how many bays and flash slots, and what their lists let in. */
export function Boxes() {
  const { session, mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  const boxes = document.plan.boxes ?? [];
  const classes = document.catalogue?.boxes ?? [];
  /** A box of a class is made of what the class is; what is changed on it later stays its own. */
  const built = (id: string, name: string, model: string) => {
    const found = classes.find((c) => c.id === model);
    const plain = { bays: 12, flash_slots: 2 };
    return { ...WHOLE, ...(found ?? plain), id, name, model_id: found ? model : "" };
  };
  const add = (model: string) =>
    session.change({
      op: "add",
      path: "plan/boxes",
      value: built(freshId("box", boxes), `Box ${boxes.length + 1}`, model),
    });
  const become = (box: (typeof boxes)[number], model: string) =>
    session.change({
      op: "set",
      path: `plan/boxes/${box.id}`,
      value: built(box.id, box.name, model),
    });
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
              {classes.length > 0 && (
                <ClassChoice
                  id={`model-${box.id}`}
                  label="Class of box"
                  classes={classes}
                  value={box.model_id ?? ""}
                  disabled={!mayWrite}
                  onChoose={(model) =>
                    model ? become(box, model) : session.set(`${path}/model_id`, "")
                  }
                />
              )}
              <AllFields model="Box" path={path} skip={SHOWN} />
              <ListPrice typed={box.unit_price} id={box.model_id} />
              <Cards box={box} path={path} />
              <AllowLines box={box} path={path} />
              {allows.length > 0 && <Tick field="Box.ignores_list" path={`${path}/ignores_list`} />}
            </More>
          </ItemFieldset>
        );
      })}
      <RefusedHere path="plan/boxes" />
      {mayWrite && (
        <p className="mt-2 flex flex-wrap items-center gap-3">
          <button type="button" className="text-button" onClick={() => add("")}>
            Add a box
          </button>
          {classes.length > 0 && (
            <select
              className="field max-w-72"
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
            </select>
          )}
        </p>
      )}
    </Fold>
  );
}
