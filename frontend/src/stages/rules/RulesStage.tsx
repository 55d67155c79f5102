import fields from "../../generated/fields.json";
import rules from "../../generated/rules.json";
import { Quantity } from "../../kit/fields";
import { factsOf, shownText, type FieldName } from "../../kit/quantity";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { valueAt } from "../../plan/patch";

/** Every threshold that a verdict or finding uses: the studio's own value, the default, and why it is so. */
export function RulesStage() {
  const { session, mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  return (
    <section aria-label="House rules" className="max-w-5xl p-6">
      <h2>House rules</h2>
      <p className="faint max-w-prose">
        Each verdict and finding stands on these. They belong to this plan and travel with its file.
      </p>
      <table className="ledger mt-3">
        <thead>
          <tr>
            <th scope="col">Rule</th>
            <th scope="col" className="num">
              Here
            </th>
            <th scope="col">Why</th>
            <th scope="col">Default</th>
          </tr>
        </thead>
        <tbody>
          {Object.entries(rules).map(([name, reason]) => {
            const field = `HouseRules.${name}` as FieldName;
            if (!(field in fields)) return null;
            const facts = factsOf(field);
            const path = `house_rules/${name}`;
            const own = valueAt(document, path);
            const isDefault = own === undefined || own === facts.default;
            return (
              <tr key={name}>
                <td className="w-52">{facts.label}</td>
                <td className="num whitespace-nowrap">
                  <Quantity bare field={field} path={path} label={facts.label} />{" "}
                  <span className="faint text-sm">{facts.unit}</span>
                </td>
                <td>{reason}</td>
                <td className="whitespace-nowrap">
                  {isDefault || !mayWrite ? (
                    shownText(facts.default, facts)
                  ) : (
                    <button
                      type="button"
                      className="text-button"
                      onClick={() => session.set(path, facts.default)}
                    >
                      Back to {shownText(facts.default, facts)}
                      <span className="sr-only"> of {facts.label}</span>
                    </button>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}
