import { useState, type ReactNode } from "react";
import { Terms } from "./Terms";

/** Opens at once: what is read now should not slide. */
const STILL = "collapse rounded-none transition-none details-content:transition-none";
const MARKED =
  "before:inline-block before:w-[1.1rem] before:font-normal before:content-['▸_'] group-open/fold:before:content-['▾_']";
/** The same within a list, whose own fold may stand open around it. */
const LISTED =
  "before:inline-block before:w-[1.1rem] before:font-normal before:content-['▸_'] group-open/entry:before:content-['▾_']";
const INSIDE = "collapse-content p-0! transition-none";

/** A part of a long page under its heading, folded away where it has nothing to say yet. */
export function Fold({
  title,
  said,
  open = false,
  children,
}: {
  title: string;
  said?: string;
  open?: boolean;
  children: ReactNode;
}) {
  return (
    <details className={`${STILL} group/fold border-b border-base-300 py-2`} open={open}>
      <summary className="collapse-title flex min-h-0 items-baseline justify-between gap-4 p-0">
        <h2 className={MARKED}>
          <Terms of={title} within />
        </h2>
        {said && <span className="faint text-sm">{said}</span>}
      </summary>
      <div className={INSIDE}>{children}</div>
    </details>
  );
}

/** Something seldom looked at, behind a line of text; made only when it is opened, where `lazy`. */
export function Behind({
  title,
  lazy = false,
  className = "",
  children,
}: {
  title: ReactNode;
  lazy?: boolean;
  className?: string;
  children: ReactNode;
}) {
  const [opened, setOpened] = useState(false);
  return (
    <details
      className={`${STILL} ${className}`}
      onToggle={(event) => setOpened(event.currentTarget.open)}
    >
      <summary className="link collapse-title inline-flex min-h-[1.72rem] w-fit items-center p-0 underline-offset-2">
        {title}
      </summary>
      <div className={INSIDE}>{(opened || !lazy) && children}</div>
    </details>
  );
}

/** What is seldom said of an item, folded away below its sentence. */
export function More({ of, children }: { of: string; children: ReactNode }) {
  return (
    <Behind
      className="text-sm"
      title={
        <>
          More<span className="sr-only"> of {of}</span>
        </>
      }
    >
      <div className="pl-4 text-base">{children}</div>
    </Behind>
  );
}

/** An entry of a list by its name and its figure, that opens to its fields. */
export function Entry({
  name,
  figure,
  open,
  children,
}: {
  name: string;
  figure: string;
  open: boolean;
  children: ReactNode;
}) {
  return (
    <details className={`${STILL} group/entry border-b border-base-300 py-1`} open={open}>
      <summary className="collapse-title flex min-h-0 justify-between gap-3 p-0">
        <span className={LISTED}>{name}</span>
        <span className="font-semibold whitespace-nowrap">{figure}</span>
      </summary>
      <div className={`${INSIDE} mt-1 pl-4!`}>{children}</div>
    </details>
  );
}
