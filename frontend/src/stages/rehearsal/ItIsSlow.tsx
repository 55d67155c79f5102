import { useId, useState } from "react";

import { Failure, type Diagnosis } from "../../api/client";
import { counted, oddsText, rateText } from "../../kit/format";
import { Input, numberLook, Select } from "../../kit/Input";
import { Problem } from "../../kit/Problem";
import { factsOf, shownText, typedValue, unitOf, type FieldName } from "../../kit/quantity";
import { Row } from "../../kit/Row";
import { Heads, Table } from "../../kit/Table";
import { useSnapshot } from "../../plan/context";
import { READINGS, useDiagnosis, type Reading, type Seen } from "./useDiagnosis";

/** What was measured at a seat, and the culprits that would explain it, the likeliest first. */
export function ItIsSlow() {
  const seats = useSnapshot().document.plan.brief.seats ?? [];
  const [seatId, setSeat] = useState(seats[0]?.id ?? "");
  const [seen, setSeen] = useState<Seen>({});
  const id = useId();
  const diagnosis = useDiagnosis(seatId, seen);
  if (!seats.length) return <p className="mt-2">Nobody works here yet: add a seat in the brief.</p>;
  return (
    <div className="ask-answer">
      <section aria-label="What was seen">
        <h2>It is slow today</h2>
        <p className="faint mt-1 text-sm">
          Type what was measured; one reading is enough to begin. A file that is larger than the
          memory of the box, no other copy beside it.
        </p>
        <Row of={id} label="Seat">
          <Select id={id} value={seatId} onChange={(event) => setSeat(event.target.value)}>
            {seats.map((seat) => (
              <option key={seat.id} value={seat.id}>
                {seat.name}
              </option>
            ))}
          </Select>
        </Row>
        {READINGS.map((reading) => (
          <Entry
            key={reading}
            reading={reading}
            seen={seen}
            problem={problemAt(diagnosis.error, reading)}
            onSeen={(value) => setSeen({ ...seen, [reading]: value })}
          />
        ))}
        {!READINGS.some((reading) => problemAt(diagnosis.error, reading)) && (
          <Problem of={diagnosis.error} />
        )}
      </section>
      {diagnosis.data && <Answer diagnosis={diagnosis.data} />}
    </div>
  );
}

/** What is wrong with one reading, to stand beside it. */
const problemAt = (error: unknown, reading: Reading): string | undefined =>
  error instanceof Failure
    ? error.envelope?.problems?.find((problem) => problem.field === reading)?.sentence
    : undefined;

function Entry({
  reading,
  seen,
  problem,
  onSeen,
}: {
  reading: Reading;
  seen: Seen;
  problem: string | undefined;
  onSeen: (value: unknown) => void;
}) {
  const id = useId();
  const facts = factsOf(`Seen.${reading}` as FieldName);
  const stored = shownText(seen[reading], facts);
  const [typed, setTyped] = useState<string | null>(null);
  const text = typed ?? stored;
  const enter = () => {
    if (typed !== null) onSeen(typedValue(typed, facts));
    setTyped(null);
  };
  return (
    <Row
      of={id}
      label={facts.label}
      unit={unitOf(facts, "")}
      below={<Problem of={problem} id={`${id}-problem`} />}
    >
      <Input
        id={id}
        aria-invalid={problem ? true : undefined}
        aria-describedby={problem && `${id}-problem`}
        className={numberLook(text)}
        inputMode="decimal"
        value={text}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={enter}
        onKeyDown={(event) => event.key === "Enter" && enter()}
      />
    </Row>
  );
}

function Answer({ diagnosis }: { diagnosis: Diagnosis }) {
  const [first, ...others] = diagnosis.suspects;
  return (
    <section aria-label="Culprits" className="answer-column">
      {first && (
        <>
          <h2>{first.name}</h2>
          <p className="mt-1">
            In {oddsText(first.odds)} cases like this it is that. {first.test}
          </p>
          <p className="mt-2 font-semibold">{diagnosis.next_words}</p>
          <Explained suspect={first} />
        </>
      )}
      <h3 className="mt-5">Or else</h3>
      <ol className="mt-1">
        {others.map((suspect) => (
          <li key={suspect.id} className="border-b border-base-300 py-1">
            <div className="flex items-baseline justify-between gap-4">
              <span className="font-semibold">{suspect.name}</span>
              <Odds odds={suspect.odds} />
            </div>
            <p className="faint text-sm">{suspect.test}</p>
          </li>
        ))}
      </ol>
      <Limits diagnosis={diagnosis} />
    </section>
  );
}

/** How likely one is, as a bar and in words. */
function Odds({ odds }: { odds: number }) {
  return (
    <span className="flex items-center gap-2 text-sm whitespace-nowrap">
      <svg width="60" height="8" aria-hidden="true">
        <rect x="0.5" y="0.5" width="59" height="7" className="hollow" />
        <rect x="0.5" y="0.5" width={59 * odds} height="7" className="teal-soft ink" />
      </svg>
      {oddsText(odds)} them
    </span>
  );
}

function Explained({ suspect }: { suspect: Diagnosis["suspects"][number] }) {
  const told = (reading: string, value: number) =>
    reading.startsWith("frames") ? counted(Math.round(value), "frame") : rateText(value);
  return (
    <Table className="mt-3" aria-label="What it explains">
      <Heads of={["Reading", "#Planned", "#Seen", "#With this"]} />
      <tbody>
        {suspect.readings.map((row) => (
          <tr key={row.reading}>
            <td>{row.words}</td>
            <td className="num">{told(row.reading, row.planned)}</td>
            <td className="num">
              {row.seen === null || row.seen === undefined ? "–" : told(row.reading, row.seen)}
            </td>
            <td className="num">{told(row.reading, row.explained)}</td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

/** What one stream gets of each hop on the way. */
function Limits({ diagnosis }: { diagnosis: Diagnosis }) {
  return (
    <>
      <h3 className="mt-5">What one copy should get of each hop</h3>
      <Table aria-label="Limits">
        <tbody>
          {diagnosis.limits.map((limit) => (
            <tr key={limit.id}>
              <td>{limit.name}</td>
              <td className="num">{rateText(limit.bytes_per_s)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}
