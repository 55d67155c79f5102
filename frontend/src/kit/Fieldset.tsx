import type { ReactNode } from "react";

/** Fields that belong together, under what they are fields of. */
export function Fieldset({
  legend,
  children,
  className = "",
}: {
  legend: ReactNode;
  children: ReactNode;
  className?: string;
}) {
  return (
    <fieldset className={`fieldset block p-0 text-base ${className}`}>
      <legend className="fieldset-legend mb-0 w-full gap-2 py-0 font-semibold">{legend}</legend>
      {children}
    </fieldset>
  );
}
