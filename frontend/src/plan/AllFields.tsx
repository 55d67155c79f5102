import table from "../generated/fields.json";
import { Choice, Quantity, TextField, Tick, type Option } from "./fields";
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

interface AnyFieldProps {
  field: FieldName;
  path: string;
  label?: string;
  bare?: boolean;
  /** Words for the values of a choice, where the values are not words already. */
  options?: readonly Option[];
}

/** A field in the form that its type asks for. */
export function AnyField({ options, ...props }: AnyFieldProps) {
  const facts = factsOf(props.field);
  if (options) return <Choice {...props} options={options} />;
  if (facts.choices) return <Choice {...props} options={worded(facts.choices)} />;
  if (facts.type === "yesno") return <Tick {...props} />;
  if (facts.type) return <TextField {...props} type={facts.type === "date" ? "date" : "text"} />;
  return <Quantity {...props} />;
}

const wordings = new Map<readonly unknown[], Option[]>();

/** Choices with their own words, the same list every time. */
function worded(choices: readonly (string | number)[]): Option[] {
  let options = wordings.get(choices);
  if (!options) {
    options = choices.map((c): Option => [String(c), String(c) || "not said"]);
    wordings.set(choices, options);
  }
  return options;
}

/** Makes the fields of one item for a sentence: bare, and named with the item for those who do not see it. */
export function fieldsIn(model: string, path: string, item: string) {
  return (name: string, says: string, options?: readonly Option[]) => (
    <AnyField
      bare
      field={`${model}.${name}` as FieldName}
      path={`${path}/${name}`}
      label={`${item}: ${says}`}
      {...(options && { options })}
    />
  );
}
