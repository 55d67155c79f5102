import type { ReactNode } from "react";
import { Terms } from "./Terms";

/** A line of a form: what it is, the field, its unit, and below what is wrong with the entry. */
export function Row({
  label,
  of,
  beside,
  unit,
  children,
  below,
}: {
  label: string;
  /** The id of the field that the label is of. */
  of: string;
  /** What is said beside the label. */
  beside?: ReactNode;
  unit?: ReactNode;
  children: ReactNode;
  below?: ReactNode;
}) {
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_auto_3.4rem] items-center gap-x-2 border-b border-base-300 py-[0.22rem]">
      <span>
        <label htmlFor={of} className="label whitespace-normal text-base-content">
          <span>
            <Terms of={label} within />
          </span>
        </label>
        {beside}
      </span>
      {children}
      <span className="faint text-sm">{unit}</span>
      {below}
    </div>
  );
}
