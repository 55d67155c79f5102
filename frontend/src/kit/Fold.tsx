import type { ReactNode } from "react";

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
    <details className="fold" open={open}>
      <summary>
        <h2>{title}</h2>
        {said && <span className="faint text-sm">{said}</span>}
      </summary>
      {children}
    </details>
  );
}

/** What is seldom said of an item, folded away below its sentence. */
export function More({ of, children }: { of: string; children: ReactNode }) {
  return (
    <details className="w-full">
      <summary className="text-button inline-block cursor-pointer text-sm">
        More<span className="sr-only"> of {of}</span>
      </summary>
      <div className="pl-4">{children}</div>
    </details>
  );
}
