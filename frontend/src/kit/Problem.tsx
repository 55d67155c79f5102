import type { ReactNode } from "react";

/** What is wrong, in a sentence, said aloud when it appears; nothing where nothing is. */
export function Problem({
  of,
  id,
  className = "",
  children,
}: {
  of: string | Error | { sentence: string } | null | undefined;
  id?: string;
  className?: string;
  /** What belongs to it, below the sentence. */
  children?: ReactNode;
}) {
  if (!of) return null;
  return (
    <span
      role="alert"
      id={id}
      className={`validator-hint visible block col-span-full mt-0 py-[0.15rem] text-[0.92rem] text-error before:font-bold before:content-['✕_'] ${className}`}
    >
      {said(of)}
      {children}
    </span>
  );
}

function said(of: string | Error | { sentence: string }): string {
  if (typeof of === "string") return of;
  return "sentence" in of ? of.sentence : of.message;
}
