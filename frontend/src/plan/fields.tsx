import { useId, useRef, useState, type KeyboardEvent, type ReactNode } from "react";

import { usePlanTools, useSnapshot } from "./context";
import { valueAt } from "./patch";
import {
  factsOf,
  nudged,
  shownText,
  typedValue,
  type FieldFacts,
  type FieldName,
} from "../kit/quantity";

const TYPING_PAUSE_MS = 350;

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
  const { document, refused } = useSnapshot();
  const facts = factsOf(field);
  const refusal = refused.get(path);
  const value = refusal?.operation ? refusal.operation.value : valueAt(document, path);
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

function Row({
  bound,
  id,
  bare,
  children,
  unit,
}: {
  bound: Bound;
  id: string;
  bare: boolean;
  children: ReactNode;
  unit?: string;
}) {
  const problem = bound.problem ? (
    <p className="problem" id={`${id}-problem`} role="alert">
      {bound.problem}
    </p>
  ) : null;
  if (bare) {
    return (
      <>
        {children}
        {problem}
      </>
    );
  }
  return (
    <div className="row">
      <span>
        <label htmlFor={id}>{bound.label}</label>
        {bound.was !== null && <span className="faint ml-2 text-xs">was {bound.was}</span>}
      </span>
      {children}
      <span className="faint text-sm">{unit}</span>
      {problem}
    </div>
  );
}

/** A number that the arrow keys step (Shift tenfold) and whose verdict follows at once. */
export function Quantity(props: FieldProps) {
  const bound = useField(props);
  const { document } = useSnapshot();
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
  const unit = facts.unit === "money" ? document.currency : facts.unit;
  const numeric = Number(value);
  return (
    <Row bound={bound} id={id} bare={props.bare ?? false} unit={unit}>
      <input
        id={id}
        className="field field-number"
        inputMode="decimal"
        autoComplete="off"
        role="spinbutton"
        aria-label={props.bare ? `${bound.label}${unit ? `, ${unit}` : ""}` : undefined}
        aria-valuenow={Number.isFinite(numeric) && value !== null ? numeric : undefined}
        aria-valuetext={`${text} ${unit ?? ""}`.trim()}
        aria-invalid={bound.problem ? true : undefined}
        aria-describedby={bound.problem ? `${id}-problem` : undefined}
        data-path={props.path}
        disabled={bound.disabled}
        value={text}
        onChange={(event) => onType(event.target.value)}
        onKeyDown={onKeyDown}
        onBlur={() => {
          enter();
          bound.leave();
        }}
      />
    </Row>
  );
}

/** One of a few values. */
export function Choice({ options, ...props }: FieldProps & { options?: [string, string][] }) {
  const bound = useField(props);
  const id = useId();
  const choices = bound.facts.choices ?? [];
  const listed = options ?? choices.map((c): [string, string] => [String(c), String(c)]);
  const numeric = typeof choices[0] === "number";
  return (
    <Row bound={bound} id={id} bare={props.bare ?? false} unit={bound.facts.unit}>
      <select
        id={id}
        className="field max-w-56"
        aria-label={props.bare ? bound.label : undefined}
        aria-invalid={bound.problem ? true : undefined}
        aria-describedby={bound.problem ? `${id}-problem` : undefined}
        data-path={props.path}
        disabled={bound.disabled}
        value={String(bound.value ?? "")}
        onChange={(event) => bound.put(numeric ? Number(event.target.value) : event.target.value)}
        onBlur={bound.leave}
      >
        {listed.map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </select>
    </Row>
  );
}

/** Yes or no. */
export function Tick(props: FieldProps) {
  const bound = useField(props);
  const id = useId();
  return (
    <Row bound={bound} id={id} bare={props.bare ?? false} unit={bound.facts.unit}>
      <input
        id={id}
        type="checkbox"
        aria-label={props.bare ? bound.label : undefined}
        data-path={props.path}
        disabled={bound.disabled}
        checked={bound.value === true}
        onChange={(event) => bound.put(event.target.checked)}
        onBlur={bound.leave}
      />
    </Row>
  );
}

/** A text or a date, entered when left or after Enter. */
export function TextField({ type = "text", ...props }: FieldProps & { type?: "text" | "date" }) {
  const bound = useField(props);
  const [typed, setTyped] = useState<string | null>(null);
  const id = useId();
  const enter = () => {
    if (typed !== null) bound.put(typed);
    setTyped(null);
  };
  return (
    <Row bound={bound} id={id} bare={props.bare ?? false}>
      <input
        id={id}
        type={type}
        className={`field ${!props.bare ? "w-44" : type === "date" ? "w-36" : "w-full min-w-24"}`}
        aria-label={props.bare ? bound.label : undefined}
        aria-invalid={bound.problem ? true : undefined}
        aria-describedby={bound.problem ? `${id}-problem` : undefined}
        autoComplete="off"
        data-path={props.path}
        disabled={bound.disabled}
        value={typed ?? shownText(bound.value, bound.facts)}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => event.key === "Enter" && enter()}
        onBlur={() => {
          enter();
          bound.leave();
        }}
      />
    </Row>
  );
}

/** A sentence about an entry of this list that was refused as a whole. */
export function RefusedHere({ path }: { path: string }) {
  const { refused } = useSnapshot();
  const own = [...refused].filter(
    ([at, { operation }]) => operation?.op !== "set" && at.startsWith(path),
  );
  return own.map(([at, { sentence }]) => (
    <p key={at} className="problem" role="alert">
      {sentence}
    </p>
  ));
}
