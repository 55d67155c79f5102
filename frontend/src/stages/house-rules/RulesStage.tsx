import type { Standards } from "../../api/client";
import fields from "../../generated/fields.json";
import rules from "../../generated/rules.json";
import { Choice, Quantity, type Option } from "../../plan/fields";
import { factsOf, shownText, unitOf, type FieldName } from "../../kit/quantity";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { valueAt } from "../../plan/patch";
import { StandardsBar, useStandards } from "../../plan/StandardsBar";
import { Heads, Table } from "../../kit/Table";
import { Button } from "../../kit/Button";

const NUMBERS: Option[] = (factsOf("Writing.numbers").choices ?? []).map((each): Option => [
  String(each),
  String(each),
]);

/** How the studio writes its figures. */
function Written() {
  return (
    <div className="max-w-sm">
      <Choice field="Writing.numbers" path="writing/numbers" options={NUMBERS} />
    </div>
  );
}

/** Every threshold that a verdict or finding uses: the studio's own value, the default, and why it is so. */
export function RulesStage() {
  const { session, mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  const studios = useStandards()?.house_rules;
  return (
    <section aria-label="House rules" className="max-w-6xl p-6">
      <h2>House rules</h2>
      <p className="faint max-w-prose">
        Each verdict and finding stands on these. They are pinned with this plan and travel with its
        file; new plans start from the studio’s.
      </p>
      <StandardsBar part="house_rules" />
      <Written />
      <Table className="mt-3">
        <Heads of={["Rule", "#Here", "Why", "The studio’s", "Default"]} />
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
                  <span className="faint inline-block w-24 text-left text-sm">
                    {unitOf(facts, document.currency)}
                  </span>
                </td>
                <td>{reason}</td>
                <td className="whitespace-nowrap">
                  <StudiosOwn
                    path={path}
                    value={studios?.[name as RuleName]}
                    own={own}
                    facts={facts}
                  />
                </td>
                <td className="whitespace-nowrap">
                  {isDefault || !mayWrite ? (
                    shownText(facts.default, facts)
                  ) : (
                    <Button look="text" onClick={() => session.set(path, facts.default)}>
                      Back to {shownText(facts.default, facts)}
                      <span className="sr-only"> of {facts.label}</span>
                    </Button>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </Table>
    </section>
  );
}

type RuleName = keyof Standards["house_rules"];

/** What the studio has of one rule, to be taken where this plan differs. */
function StudiosOwn({
  path,
  value,
  own,
  facts,
}: {
  path: string;
  value: Standards["house_rules"][RuleName] | undefined;
  own: unknown;
  facts: ReturnType<typeof factsOf>;
}) {
  const { session, mayWrite } = usePlanTools();
  if (value === undefined) return null;
  if (value === (own ?? facts.default) || !mayWrite) return shownText(value, facts);
  return (
    <Button look="text" onClick={() => session.set(path, value)}>
      Take {shownText(value, facts)}
      <span className="sr-only"> of {facts.label}</span>
    </Button>
  );
}
