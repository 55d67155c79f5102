import { Choice, Quantity, RefusedHere, TextField, Tick, type Option } from "../../plan/fields";
import { More } from "../../kit/Fold";
import { factsOf } from "../../kit/quantity";
import { Figure } from "../../plan/Figure";
import { RemoveItem } from "../../plan/ItemFieldset";
import { moneyText } from "../../kit/format";
import { useSnapshot } from "../../plan/context";
import { AddItem } from "../../plan/AddItem";
import { Heads, Table } from "../../kit/Table";

/** What a purchase serves as, and whether it comes from stock. */
function Serves({ path, name }: { path: string; name: string }) {
  return (
    <More of={name}>
      <Choice field="Purchase.part" path={`${path}/part`} options={PARTS} />
      <Tick field="Purchase.is_reused" path={`${path}/is_reused`} />
      <TextField field="Purchase.priced_on" path={`${path}/priced_on`} type="date" />
    </More>
  );
}

const PARTS: Option[] = (factsOf("Purchase.part").choices ?? []).map((each): Option => [
  String(each),
  String(each) || "something else",
]);

/** What else is bought, at typed prices; with the drives it makes the Money scale. */
export function Purchases() {
  const { document, evaluation } = useSnapshot();
  const purchases = document.plan.purchases ?? [];
  return (
    <>
      <h2 className="mt-6">Also bought</h2>
      <Table>
        <Heads of={["What", "#Number", `#Each, ${document.currency}`, "-Remove"]} />
        <tbody>
          {purchases.map((purchase) => {
            const path = `plan/purchases/${purchase.id}`;
            return (
              <tr key={purchase.id}>
                <td>
                  <TextField
                    bare
                    field="Purchase.name"
                    path={`${path}/name`}
                    label={`Name of ${purchase.name}`}
                  />
                  <Serves path={path} name={purchase.name} />
                </td>
                <td className="num">
                  <Quantity
                    bare
                    field="Purchase.count"
                    path={`${path}/count`}
                    label={`${purchase.name}: number`}
                  />
                </td>
                <td className="num">
                  <Quantity
                    bare
                    field="Purchase.unit_price"
                    path={`${path}/unit_price`}
                    label={`${purchase.name}: price each`}
                  />
                </td>
                <td>
                  <RemoveItem path={path} name={purchase.name} />
                </td>
              </tr>
            );
          })}
        </tbody>
      </Table>
      <RefusedHere path="plan/purchases" />
      <p className="mt-2 flex justify-between">
        <span>
          <AddItem path="plan/purchases">Add a purchase</AddItem>
        </span>
        <span>
          With the drives{" "}
          <Figure id="scales.money">{moneyText(evaluation.money.spent, document.currency)}</Figure>
        </span>
      </p>
    </>
  );
}
