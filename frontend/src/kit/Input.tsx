import type { ComponentProps } from "react";

/** What a field looks like, whatever is entered in it; a refused entry is dashed, not only coloured. */
const FIELD =
  "validator bg-base-200 border-base-content/45 py-0 focus:outline-primary focus:outline-offset-1 aria-invalid:border-2 aria-invalid:border-dashed aria-invalid:border-error disabled:cursor-default disabled:border-dotted disabled:border-base-content/45 disabled:bg-transparent disabled:text-inherit";
const WIDTH = /(^|\s)w-/;

/** As wide as it is told, else as what it holds. */
const sized = (className: string) => (WIDTH.test(className) ? className : `w-auto ${className}`);

/** One line that is typed. */
export function Input({ className = "", autoComplete = "off", ...rest }: ComponentProps<"input">) {
  return (
    <input
      className={`input ${FIELD} px-[0.45rem] ${sized(className)}`}
      autoComplete={autoComplete}
      {...rest}
    />
  );
}

/** A number that is typed: narrow, and its digits under those of its neighbours. */
const NUMBER = "text-right font-semibold";
const FEW_DIGITS = 4;
const ORDINARY_DIGITS = 8;

/** The look of a number's field: wide enough for what it holds, and in a sentence no wider. */
export function numberLook(text: string, inSentence = false): string {
  if (text.length > ORDINARY_DIGITS) return `${NUMBER} w-[8.4rem]`;
  return `${NUMBER} ${inSentence && text.length <= FEW_DIGITS ? "w-[3.6rem]" : "w-[5.2rem]"}`;
}

/** One of a few. The list is the system's own: it is as wide as its longest entry, and types ahead. */
export function Select({ className = "", ...rest }: ComponentProps<"select">) {
  return (
    <select
      className={`select appearance-none ${FIELD} bg-position-[calc(100%-13px)_calc(1px+50%),calc(100%-9.1px)_calc(1px+50%)] pr-6 pl-[0.45rem] ${sized(className)}`}
      {...rest}
    />
  );
}

/** A list that does something with what is chosen from it, and then shows its own words again. */
export function Offer({
  label,
  words,
  from,
  onChoose,
  path,
  className = "",
}: {
  label: string;
  words: string;
  /** The list of the plan that is added to, to be found again by. */
  path?: string;
  from: readonly { id: string; name: string }[];
  onChoose: (id: string) => void;
  className?: string;
}) {
  return (
    <Select
      className={className}
      aria-label={label}
      data-path={path}
      value=""
      onChange={(event) => onChoose(event.target.value)}
    >
      <option value="">{words}</option>
      {from.map((each) => (
        <option key={each.id} value={each.id}>
          {each.name}
        </option>
      ))}
    </Select>
  );
}

/** Yes or no. */
export function Checkbox({
  className = "",
  ...rest
}: Omit<ComponentProps<"input">, "type" | "size">) {
  return (
    <input
      type="checkbox"
      className={`checkbox checkbox-primary border-base-content/60 disabled:cursor-default disabled:opacity-60 ${className}`}
      {...rest}
    />
  );
}

/** A number that is slid, where trying matters more than the digit. */
export function Range({ className = "", ...rest }: Omit<ComponentProps<"input">, "type" | "size">) {
  return <input type="range" className={`range range-primary range-xs ${className}`} {...rest} />;
}

/** One of those that share a name. */
export function Radio({ className = "", ...rest }: Omit<ComponentProps<"input">, "type" | "size">) {
  return (
    <input
      type="radio"
      className={`radio radio-primary border-base-content/60 ${className}`}
      {...rest}
    />
  );
}

/** A file that is chosen. */
export function FileInput({
  className = "",
  ...rest
}: Omit<ComponentProps<"input">, "type" | "size">) {
  return (
    <input
      type="file"
      className={`file-input bg-base-200 border-base-content/45 w-full max-w-96 file:mr-3 file:border-current/30 file:bg-transparent file:px-2.5 file:font-normal ${className}`}
      {...rest}
    />
  );
}
