import { useEffect, useId, useRef, useState } from "react";
import { useParams } from "react-router";

import type { LineOut, Session } from "../../api/client";
import { Button } from "../../kit/Button";
import { Input } from "../../kit/Input";
import { MarkedText, type Span } from "../../kit/MarkedText";
import { Problem } from "../../kit/Problem";
import { ScaleStrip } from "../../studio/ScaleStrip";
import { StudioHeader } from "../../studio/StudioHeader";
import { insertion } from "./insertion";
import { StillOpen } from "./StillOpen";
import { Understood } from "./Understood";
import { useBegin } from "./useBegin";
import { useLine } from "./useLine";
import { OtherWays } from "./OtherWays";

const EXAMPLE =
  "4 edit seats play 2 streams 220 Mb/s, 2 photo 60MB raw, 20 h a week, 8 TB today, 3 years, 9000 EUR, quiet";

/** A plan begins with what one would say on the phone; or with something that is there already. */
export function BeginPage({ session }: { session: Session }) {
  const { studio = "" } = useParams();
  const [line, setLine] = useState("");
  const answer = useLine(studio, line);
  const taken = answer.data;
  const begin = useBegin(studio);
  const [name, setName] = useState("");
  const isSaid = line.trim() !== "";
  const start = () => isSaid && begin.mutate({ name, line });
  useEffect(() => {
    window.document.title = "Begin a plan · Grand Larder";
  }, []);
  return (
    <div className="grid h-dvh grid-rows-[auto_minmax(0,1fr)_auto]">
      <StudioHeader session={session} studio={studio} />
      <main className="overflow-y-auto">
        <div className="mx-auto max-w-6xl px-5 py-5">
          <h1 className="text-xl">Begin a plan</h1>
          <Line line={line} setLine={setLine} taken={taken} isNow={answer.isOf} onEnter={start} />
          <Problem of={taken?.reason || answer.error} />
          <form
            className="mt-3 flex flex-wrap items-center gap-x-3 gap-y-2"
            onSubmit={(event) => {
              event.preventDefault();
              start();
            }}
          >
            <Button type="submit" look="primary" disabled={!isSaid || begin.isPending}>
              Begin with this
            </Button>
            <Input
              className="w-64"
              aria-label="Name of the new plan"
              placeholder="Name of the new plan"
              maxLength={80}
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
            <Button look="text" onClick={() => begin.mutate({ name })}>
              Begin empty
            </Button>
          </form>
          <Problem of={begin.error} />
          <div className="mt-8 grid gap-x-8 gap-y-5 md:grid-cols-3">
            <OtherWays studio={studio} line={line} name={name} begin={begin.mutate} />
            <StillOpen of={taken?.open_work ?? []} />
          </div>
        </div>
      </main>
      <footer className="frame-scales">
        {taken?.scales && (
          <ScaleStrip scales={taken.scales} currency={taken.line.brief.currency ?? ""} />
        )}
      </footer>
    </div>
  );
}

/** The line, what of it is not understood, and what the rest is taken as. */
function Line({
  line,
  setLine,
  taken,
  isNow,
  onEnter,
}: {
  line: string;
  setLine: (line: string) => void;
  taken: LineOut | undefined;
  isNow: boolean;
  onEnter: () => void;
}) {
  const id = useId();
  const { field, choose } = useChosen();
  const unknown = taken?.line.unknown ?? [];
  const understood = taken?.line.understood ?? [];
  return (
    <>
      <p className="faint mb-2">
        Say who works, on what, how much is shot and kept, until when, for how much money and where
        it stands. What you leave out is assumed and shown.
      </p>
      <MarkedText
        ref={field}
        value={line}
        marks={isNow && taken ? marksOf(taken) : []}
        onChange={setLine}
        onEnter={onEnter}
        aria-label="The brief in one line"
        aria-invalid={unknown.length > 0 || undefined}
        aria-describedby={`${id}-unknown`}
        placeholder={EXAMPLE}
      />
      <div id={`${id}-unknown`} role="status" aria-label="What is not understood">
        {unknown.map((each) => (
          <p key={`${each.start} ${each.sentence}`} className="state-short mt-1">
            <span aria-hidden="true">✕</span> {each.sentence}
          </p>
        ))}
      </div>
      <Understood
        parts={understood}
        onSay={(part, left) => {
          const [next, from, to] = insertion(line, part, left);
          setLine(next);
          choose([from, to]);
        }}
      />
    </>
  );
}

/** The field has the focus from the start, and what is put into it can be chosen, to be typed over. */
function useChosen() {
  const field = useRef<HTMLTextAreaElement>(null);
  const [chosen, choose] = useState<[number, number] | null>(null);
  useEffect(() => field.current?.focus(), []);
  useEffect(() => {
    if (!chosen) return;
    field.current?.focus();
    field.current?.setSelectionRange(...chosen);
  }, [chosen]);
  return { field, choose };
}

/** What is underlined: parts that do not overlap; words that are not known win over the part they stand in. */
function marksOf({ line }: LineOut): Span[] {
  const unknown = line.unknown.map(({ start, end }) => ({ start, end, isKnown: false }));
  const known = line.understood.map(({ start, end }) => ({ start, end, isKnown: true }));
  const isApart = (mark: Span) => unknown.every((u) => u.end <= mark.start || mark.end <= u.start);
  return [...unknown, ...known.filter(isApart)];
}
