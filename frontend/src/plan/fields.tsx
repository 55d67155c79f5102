import { memo, useId, useRef, useState, type KeyboardEvent, type ReactNode } from "react";

import { usePart, usePlanTools, useSnapshot } from "./context";
import { valueAt } from "./patch";
import {
  factsOf,
  nudged,
  shownText,
  typedValue,
  unitOf,
  type FieldFacts,
  type FieldName,
} from "../kit/quantity";
import { Problem } from "../kit/Problem";
import { Row } from "../kit/Row";
import { Checkbox, Input, numberLook, Select } from "../kit/Input";

const TYPING_PAUSE_MS = 350;

/** A value and its words. */
export type Option = [string, string];

interface FieldProps {
  field: FieldName;
  path: string;
  label?: string;
  /** In a table the label is for assistive technology only, and there is no row around it. */
  bare?: boolean;
}

interface Bound {
  facts: FieldFacts;
  label: string;
  value: unknown;
  problem: string | undefined;
  was: string | null;
  disabled: boolean;
  put: (value: unknown) => void;
  leave: () => void;
}

/** A field of the plan with its value, what is wrong with the entry, and what it was before. */
function useField({ field, path, label }: FieldProps): Bound {
  const { session, opened, mayWrite } = usePlanTools();
  const refusal = usePart((snapshot) => snapshot.refused.get(path));
  const stored = usePart((snapshot) => valueAt(snapshot.document, path));
  const facts = factsOf(field);
  const value = refusal?.operation ? refusal.operation.value : stored;
  const before = valueAt(opened, path);
  const was = before !== undefined && before !== value ? shownText(before, facts) || "none" : null;
  return {
    facts,
    label: label ?? facts.label,
    value,
    problem: refusal?.sentence,
    was,
    disabled: !mayWrite,
    put: (next) => session.set(path, next),
    leave: () => void session.flush(),
  };
}

/** What a field of any kind tells those who do not see it. */
const spoken = (bound: Bound, id: string, { bare = false, path }: FieldProps, unit = "") => ({
  id,
  "aria-label": bare ? `${bound.label}${unit && `, ${unit}`}` : undefined,
  "aria-invalid": bound.problem ? true : undefined,
  "aria-describedby": bound.problem ? `${id}-problem` : undefined,
  "data-path": path,
  disabled: bound.disabled,
});

/** A field in its row, or alone with what is wrong below it. */
function Placed({
  bound,
  id,
  bare = false,
  children,
  unit,
}: {
  bound: Bound;
  id: string;
  bare: boolean | undefined;
  children: ReactNode;
  unit?: string;
}) {
  const problem = <Problem of={bound.problem} id={`${id}-problem`} />;
  if (bare) {
    return (
      <>
        {children}
        {problem}
      </>
    );
  }
  const was = bound.was !== null && <span className="faint ml-2 text-xs">was {bound.was}</span>;
  return (
    <Row of={id} label={bound.label} beside={was} unit={unit} below={problem}>
      {children}
    </Row>
  );
}

/** A number that the arrow keys step (Shift tenfold) and whose verdict follows at once. */
export const Quantity = memo(function Quantity(props: FieldProps) {
  const bound = useField(props);
  const currency = usePart((snapshot) => snapshot.document.currency);
  const [typed, setTyped] = useState<string | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const id = useId();
  const { facts, value } = bound;
  const text = typed ?? shownText(value, facts);

  const enter = () => {
    clearTimeout(timer.current);
    if (typed !== null) bound.put(typedValue(typed, facts));
    setTyped(null);
  };
  const onType = (next: string) => {
    setTyped(next);
    clearTimeout(timer.current);
    timer.current = setTimeout(() => bound.put(typedValue(next, facts)), TYPING_PAUSE_MS);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Enter") enter();
    if (event.key === "Escape") setTyped(null);
    if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
    event.preventDefault();
    clearTimeout(timer.current);
    const from = typed === null ? value : typedValue(typed, facts);
    const next = nudged(from, facts, event.key === "ArrowUp" ? 1 : -1, event.shiftKey);
    setTyped(null);
    if (next !== null) bound.put(next);
  };
  const unit = unitOf(facts, currency);
  const numeric =
    typeof value === "number" ? Number(shownText(value, facts).replaceAll(",", "")) : Number(value);
  return (
    <Placed bound={bound} id={id} bare={props.bare} unit={unit}>
      <Input
        {...spoken(bound, id, props, unit)}
        className={numberLook(text, props.bare)}
        inputMode="decimal"
        role="spinbutton"
        aria-valuenow={Number.isFinite(numeric) && value !== null ? numeric : undefined}
        aria-valuetext={`${text} ${unit ?? ""}`.trim()}
        value={text}
        onChange={(event) => onType(event.target.value)}
        onKeyDown={onKeyDown}
        onBlur={() => {
          enter();
          bound.leave();
        }}
      />
    </Placed>
  );
});

/** One of a few values. */
export const Choice = memo(function Choice({
  options,
  ...props
}: FieldProps & { options?: readonly Option[] }) {
  const bound = useField(props);
  const id = useId();
  const choices = bound.facts.choices ?? [];
  const listed = options ?? choices.map((c): Option => [String(c), String(c)]);
  const numeric = typeof choices[0] === "number";
  return (
    <Placed bound={bound} id={id} bare={props.bare} unit={bound.facts.unit}>
      <Select
        {...spoken(bound, id, props)}
        className="max-w-56"
        value={String(bound.value ?? "")}
        onChange={(event) => bound.put(numeric ? Number(event.target.value) : event.target.value)}
        onBlur={bound.leave}
      >
        {listed.map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </Select>
    </Placed>
  );
});

/** Yes or no. */
export const Tick = memo(function Tick(props: FieldProps) {
  const bound = useField(props);
  const id = useId();
  return (
    <Placed bound={bound} id={id} bare={props.bare} unit={bound.facts.unit}>
      <Checkbox
        {...spoken(bound, id, props)}
        checked={bound.value === true}
        onChange={(event) => bound.put(event.target.checked)}
        onBlur={bound.leave}
      />
    </Placed>
  );
});

/** A text or a date, entered when left or after Enter. */
export const TextField = memo(function TextField({
  type = "text",
  ...props
}: FieldProps & { type?: "text" | "date" }) {
  const bound = useField(props);
  const [typed, setTyped] = useState<string | null>(null);
  const id = useId();
  const enter = () => {
    if (typed !== null) bound.put(typed);
    setTyped(null);
  };
  return (
    <Placed bound={bound} id={id} bare={props.bare}>
      <Input
        {...spoken(bound, id, props)}
        type={type}
        className={`${!props.bare ? "w-44" : type === "date" ? "w-36" : "w-full min-w-24"}`}
        value={typed ?? shownText(bound.value, bound.facts)}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => event.key === "Enter" && enter()}
        onBlur={() => {
          enter();
          bound.leave();
        }}
      />
    </Placed>
  );
});

/** A sentence about an entry of this list that was refused as a whole. */
export function RefusedHere({ path }: { path: string }) {
  const { refused } = useSnapshot();
  const own = [...refused].filter(
    ([at, { operation }]) => operation?.op !== "set" && at.startsWith(path),
  );
  return own.map(([at, { sentence }]) => <Problem key={at} of={sentence} />);
}
