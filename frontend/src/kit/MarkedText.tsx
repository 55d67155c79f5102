import type { ReactNode, Ref } from "react";

/** A part of a text, from `start` to `end`: understood, or not known. */
export interface Span {
  start: number;
  end: number;
  isKnown: boolean;
}

const SHARED =
  "col-start-1 row-start-1 px-3 py-3 text-[1.2rem] leading-8 whitespace-pre-wrap break-words";

/** A text that wraps, with what is understood of it underlined while it is typed. Enter is left to the form. */
export function MarkedText({
  value,
  marks,
  onChange,
  onEnter,
  ref,
  ...told
}: {
  value: string;
  marks: readonly Span[];
  onChange: (text: string) => void;
  onEnter: () => void;
  ref: Ref<HTMLTextAreaElement>;
  "aria-label": string;
  "aria-invalid": boolean | undefined;
  "aria-describedby": string;
  placeholder: string;
}) {
  return (
    <div className="grid">
      <div
        aria-hidden="true"
        className={`${SHARED} pointer-events-none z-10 border border-transparent text-transparent`}
      >
        {marked(value, marks)}{" "}
      </div>
      <textarea
        ref={ref}
        rows={1}
        spellCheck={false}
        className={`textarea border-base-content/60 focus:outline-primary aria-invalid:border-error h-full min-h-14 w-full resize-none overflow-hidden bg-base-200 ${SHARED}`}
        value={value}
        onChange={(event) => onChange(event.target.value.replace(/\s*\n\s*/g, " "))}
        onKeyDown={(event) => {
          if (event.key !== "Enter") return;
          event.preventDefault();
          onEnter();
        }}
        {...told}
      />
    </div>
  );
}

/** The text in pieces; those that are marked are underlined, the unknown ones in another way too. */
function marked(text: string, marks: readonly Span[]): ReactNode[] {
  const pieces: ReactNode[] = [];
  let at = 0;
  for (const mark of [...marks].sort((a, b) => a.start - b.start)) {
    if (mark.start < at || mark.end > text.length || mark.end <= mark.start) continue;
    pieces.push(text.slice(at, mark.start));
    pieces.push(
      <span
        key={mark.start}
        className={
          mark.isKnown
            ? "underline decoration-primary decoration-2 underline-offset-[6px]"
            : "underline decoration-error decoration-wavy decoration-2 underline-offset-[6px]"
        }
      >
        {text.slice(mark.start, mark.end)}
      </span>,
    );
    at = mark.end;
  }
  pieces.push(text.slice(at));
  return pieces;
}
