import { Quantity, RefusedHere, TextField } from "../../plan/fields";
import { Figure } from "../../plan/Figure";
import { RemoveItem } from "../../plan/ItemFieldset";
import { moneyText } from "../../kit/format";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { freshId } from "../../plan/patch";

/** What else is bought, at typed prices; with the drives it makes the Money scale. */
export function Purchases() {
  const { session, mayWrite } = usePlanTools();
  const { document, evaluation } = useSnapshot();
  const purchases = document.plan.purchases ?? [];
  const add = () =>
    session.change({
      op: "add",
      path: "plan/purchases",
      value: {
        id: freshId("purchase", purchases),
        name: "New purchase",
        count: 1,
        unit_price: null,
        priced_on: null,
      },
    });
  return (
    <>
      <h2 className="mt-6">Also bought</h2>
      <table className="ledger">
        <thead>
          <tr>
            <th scope="col">What</th>
            <th scope="col" className="num">
              Number
            </th>
            <th scope="col" className="num">
              Each, {document.currency}
            </th>
            <th scope="col">
              <span className="sr-only">Remove</span>
            </th>
          </tr>
        </thead>
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
      </table>
      <RefusedHere path="plan/purchases" />
      <p className="mt-2 flex justify-between">
        {mayWrite ? (
          <button type="button" className="text-button" onClick={add}>
            Add a purchase
          </button>
        ) : (
          <span />
        )}
        <span>
          With the drives{" "}
          <Figure id="scales.money">{moneyText(evaluation.money.spent, document.currency)}</Figure>
        </span>
      </p>
    </>
  );
}
