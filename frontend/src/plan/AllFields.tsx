import table from "../generated/fields.json";
import { Choice, Quantity, TextField, Tick } from "./fields";
import { factsOf, type FieldName } from "../kit/quantity";

const NAMES = Object.keys(table) as FieldName[];

/** The names of a model's fields, in the core's order. */
export const fieldsOf = (model: string): FieldName[] =>
  NAMES.filter((name) => name.startsWith(`${model}.`));

/** Every field of an item that is not shown elsewhere, each in the form that its type asks for. */
export function AllFields({
  model,
  path,
  skip = [],
}: {
  model: string;
  path: string;
  skip?: readonly string[];
}) {
  return fieldsOf(model).map((field) => {
    const name = field.slice(model.length + 1);
    if (skip.includes(name)) return null;
    return <AnyField key={field} field={field} path={`${path}/${name}`} />;
  });
}

/** A field in the form that its type asks for. */
export function AnyField(props: {
  field: FieldName;
  path: string;
  label?: string;
  bare?: boolean;
}) {
  const facts = factsOf(props.field);
  if (facts.choices) {
    const options = facts.choices.map((c): [string, string] => [
      String(c),
      String(c) || "not said",
    ]);
    return <Choice {...props} options={options} />;
  }
  if (facts.type === "yesno") return <Tick {...props} />;
  if (facts.type) return <TextField {...props} type={facts.type === "date" ? "date" : "text"} />;
  return <Quantity {...props} />;
}
