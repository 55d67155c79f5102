import { Entry, Fold } from "../../kit/Fold";
import { counted, sizeText } from "../../kit/format";
import { AddItem } from "../../plan/AddItem";
import { AllFields } from "../../plan/AllFields";
import { Select } from "../../kit/Input";
import { Row } from "../../kit/Row";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { Choice, RefusedHere } from "../../plan/fields";
import { RemoveLine } from "../../plan/ItemFieldset";
import { useWhere } from "../../plan/useWhere";

const KEPT = "plan/safekeeping";

/** What copies lie on besides the pools. */
export function Stores() {
  const stores = useSnapshot().document.plan.safekeeping?.stores ?? [];
  const { places } = useWhere();
  return (
    <Fold title="What copies lie on" said={counted(stores.length, "thing")} open={false}>
      {stores.map((store) => {
        const path = `${KEPT}/stores/${store.id}`;
        return (
          <Entry key={store.id} name={store.name} figure={store.kind ?? "loose disks"} open={false}>
            <Choice field="Store.place_id" path={`${path}/place_id`} options={places} />
            <AllFields model="Store" path={path} skip={["place_id"]} />
            <RemoveLine path={path} name={store.name} />
          </Entry>
        );
      })}
      <RefusedHere path={`${KEPT}/stores`} />
      <p className="mt-1 flex flex-wrap gap-4">
        <AddItem path={`${KEPT}/stores`}>Add loose drives</AddItem>
        <AddItem path={`${KEPT}/stores`} given={{ kind: "a box" }}>
          a box
        </AddItem>
        <AddItem path={`${KEPT}/stores`} given={{ kind: "linear tape" }}>
          tapes
        </AddItem>
        <AddItem path={`${KEPT}/stores`} given={{ kind: "a service" }}>
          a service
        </AddItem>
      </p>
    </Fold>
  );
}

/** Places elsewhere, rooms and safes. */
export function Places() {
  const { plan } = useSnapshot().document;
  const places = plan.safekeeping?.places ?? [];
  const { inside } = useWhere();
  return (
    <Fold title="Places" said={counted(places.length, "place")} open={false}>
      <p className="faint text-sm">
        A safe or a room in the house burns with it: it is the same place, and keeps thieves out at
        best. The house itself goes without saying.
      </p>
      {places.map((place) => {
        const path = `${KEPT}/places/${place.id}`;
        return (
          <Entry
            key={place.id}
            name={place.name}
            figure={place.inside ? "within" : "elsewhere"}
            open={false}
          >
            <AllFields model="Place" path={path} skip={["inside"]} />
            <Choice
              field="Place.inside"
              path={`${path}/inside`}
              options={inside.filter(([id]) => id !== place.id)}
            />
            <RemoveLine path={path} name={place.name} />
          </Entry>
        );
      })}
      <RefusedHere path={`${KEPT}/places`} />
      <AddItem path={`${KEPT}/places`}>Add a place</AddItem>
    </Fold>
  );
}

/** The classes of material, and what each is worth. */
export function Materials() {
  const { document, evaluation } = useSnapshot();
  const materials = document.plan.safekeeping?.materials ?? [];
  const told = new Map(evaluation.copies.materials.map((m) => [m.id, m]));
  const { homes } = useWhere();
  return (
    <Fold title="Material" said={counted(told.size, "class", "classes")} open={false}>
      <p className="faint text-sm">
        Sizes and what changes a day come from the brief until something is typed here.
      </p>
      {materials.map((material) => {
        const path = `${KEPT}/materials/${material.id}`;
        const own = told.get(material.id);
        return (
          <Entry
            key={material.id}
            name={material.name}
            figure={own ? sizeText(own.bytes) : "nothing yet"}
            open={false}
          >
            <AllFields model="Material" path={path} skip={["lives_on"]} />
            <Choice field="Material.lives_on" path={`${path}/lives_on`} options={homes} />
            <RemoveLine path={path} name={material.name} />
          </Entry>
        );
      })}
      <RefusedHere path={`${KEPT}/materials`} />
      <AddItem path={`${KEPT}/materials`}>Add material</AddItem>
    </Fold>
  );
}

/** What this house asks of copies: one of the usual rules, or numbers of its own. */
export function CopyRule() {
  const { rules } = useSnapshot().evaluation.copies;
  const { session, mayWrite } = usePlanTools();
  const kept = rules.find((rule) => rule.is_kept);
  return (
    <Row of="copy-rule" label="The house asks for">
      <Select
        id="copy-rule"
        className="max-w-64"
        value={kept?.id ?? ""}
        disabled={!mayWrite}
        onChange={(event) => {
          const taken = rules.find((rule) => rule.id === event.target.value);
          if (taken) session.change(...taken.patch);
        }}
      >
        {!kept && <option value="">numbers of its own</option>}
        {rules.map((rule) => (
          <option key={rule.id} value={rule.id}>
            {rule.name}
          </option>
        ))}
      </Select>
    </Row>
  );
}

/** Who gets in, and who hears of it when something breaks. */
export function People() {
  return (
    <>
      <h3 className="mt-4">People</h3>
      <Choice field="Safekeeping.sign_in" path={`${KEPT}/sign_in`} />
      <Choice field="Safekeeping.alerts" path={`${KEPT}/alerts`} />
    </>
  );
}
