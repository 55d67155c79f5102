import { Select } from "./Input";
import { Problem } from "./Problem";

/** A class of the catalogue, chosen by its name, which is long: the list takes the whole line. */
export function ClassChoice({
  id,
  label,
  classes,
  value,
  disabled,
  problem = "",
  onChoose,
}: {
  id: string;
  label: string;
  classes: readonly { id: string; name: string }[];
  value: string;
  disabled: boolean;
  problem?: string;
  onChoose: (id: string) => void;
}) {
  return (
    <div className="border-b border-base-300 py-1">
      <label htmlFor={id} className="block">
        {label}
      </label>
      <Select
        id={id}
        className="w-full"
        disabled={disabled}
        value={value}
        onChange={(event) => onChoose(event.target.value)}
      >
        <option value="">none: the figures below</option>
        {classes.map((each) => (
          <option key={each.id} value={each.id}>
            {each.name}
          </option>
        ))}
      </Select>
      <Problem of={problem} />
    </div>
  );
}
