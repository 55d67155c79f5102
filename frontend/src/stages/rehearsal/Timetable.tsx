import { useMemo } from "react";

import type { PlanDocument } from "../../api/client";
import { AddItem } from "../../plan/AddItem";
import { fieldsIn } from "../../plan/AllFields";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { Quantity, RefusedHere, type Option } from "../../plan/fields";
import { ItemFieldset, RemoveItem } from "../../plan/ItemFieldset";
import { Button } from "../../kit/Button";
import { Fold } from "../../kit/Fold";
import { counted } from "../../kit/format";
import { Problem } from "../../kit/Problem";
import { useFixedHours } from "./useDay";
import { useTimetable, type DayJob, type WorkSession } from "./useTimetable";

type Seat = NonNullable<PlanDocument["plan"]["brief"]["seats"]>[number];
const PATH = "plan/brief/timetable";
const ADDED: readonly [kind: DayJob["kind"], words: string][] = [
  ["cards", "a card"],
  ["render", "a render"],
  ["copy", "a copy"],
  ["upload", "an upload"],
  ["scrub", "a scrub"],
  ["rebuild", "a rebuild"],
  ["destage", "a destage run"],
];

/** What is fixed in the day: when it begins, its jobs, and who works when. */
export function Timetable() {
  const { jobs, sessions } = useTimetable();
  const said = [
    ...(jobs.length ? [counted(jobs.length, "job")] : []),
    ...(sessions.length ? [counted(sessions.length, "session")] : []),
  ].join(", ");
  return (
    <Fold title="Timetable" said={said || "by the brief alone"}>
      <Quantity field="Timetable.begins_minute" path={`${PATH}/begins_minute`} />
      <h3 className="mt-3">Jobs</h3>
      {jobs.map((job) => (
        <Job key={job.id} job={job} />
      ))}
      <RefusedHere path={`${PATH}/jobs`} />
      <p className="mt-1">
        <span className="faint">Add </span>
        {ADDED.map(([kind, words]) => (
          <AddItem key={kind} className="mr-2" path={`${PATH}/jobs`} given={{ kind }}>
            {words}
          </AddItem>
        ))}
      </p>
      <h3 className="mt-3">Hours</h3>
      <Hours />
    </Fold>
  );
}

function Job({ job }: { job: DayJob }) {
  const path = `${PATH}/jobs/${job.id}`;
  const its = fieldsIn("DayJob", path, job.name);
  const sized = !["scrub", "rebuild", "destage"].includes(job.kind);
  return (
    <ItemFieldset field="DayJob.name" path={path} name={job.name}>
      <Where job={job} its={its} />
      {sized && (
        <>
          {its("bytes", job.kind === "render" ? "reads" : "moves")}
          <span>GB</span>
        </>
      )}
      {job.kind === "render" && (
        <>
          <span>and writes</span>
          {its("written_bytes", "writes")}
          <span>GB</span>
        </>
      )}
      {sized && job.kind !== "cards" && (
        <>
          <span>at most</span>
          {its("most_bytes_per_s", "at most, nothing for as fast as the way allows")}
          <span>MB/s,</span>
        </>
      )}
      <span>from</span>
      {its("from_minute", "from")}
      {job.kind !== "destage" && (
        <>
          <span>by</span>
          {its("by_minute", "done by")}
        </>
      )}
    </ItemFieldset>
  );
}

/** At which seat, or of which pools. */
function Where({ job, its }: { job: DayJob; its: ReturnType<typeof fieldsIn> }) {
  const { plan } = useSnapshot().document;
  const { seats } = plan.brief;
  const pools = plan.pools;
  const homes = useMemo(() => pools.map((p): Option => [p.id, p.name]), [pools]);
  const who = useMemo(
    () =>
      (seats ?? [])
        .filter((seat) => job.kind !== "cards" || seat.kind === "ingest")
        .map((seat): Option => [seat.id, seat.name]),
    [seats, job.kind],
  );
  if (job.kind === "cards" || job.kind === "render")
    return (
      <>
        <span>at</span>
        {its("seat_id", "done at", who)}
      </>
    );
  return (
    <>
      <span>{job.kind === "copy" ? "from" : "of"}</span>
      {its("pool_id", "pool", homes)}
      {job.kind === "copy" && (
        <>
          <span>to</span>
          {its("to_pool_id", "to pool", homes)}
        </>
      )}
    </>
  );
}

/** Who works when, for every class of seats: by its odds, or as it is said. */
function Hours() {
  const { seats } = useSnapshot().document.plan.brief;
  const { problem, fix } = useFixedHours();
  const classes = (seats ?? []).filter((seat) => seat.kind !== "ingest" && (seat.count ?? 1) > 0);
  return (
    <>
      {classes.map((seat) => (
        <HoursOf key={seat.id} seat={seat} fix={() => fix(seat.id)} />
      ))}
      <RefusedHere path={`${PATH}/sessions`} />
      <Problem of={problem} />
    </>
  );
}

function HoursOf({ seat, fix }: { seat: Seat; fix: () => void }) {
  const { session, mayWrite } = usePlanTools();
  const own = useTimetable().sessions.filter((each) => each.seat_id === seat.id);
  const byOdds = () =>
    session.change(
      ...own.map(({ id }) => ({ op: "remove" as const, path: `${PATH}/sessions/${id}` })),
    );
  return (
    <div className="border-b border-base-300 py-1">
      <div className="flex flex-wrap items-baseline justify-between gap-x-3">
        <span>{seat.name}</span>
        {own.length === 0 && <span className="faint text-sm">by its odds</span>}
        {mayWrite && (
          <Button look="text" onClick={own.length ? byOdds : fix}>
            {own.length ? "By its odds again" : "Set the hours"}
            <span className="sr-only"> of {seat.name}</span>
          </Button>
        )}
      </div>
      {own.map((each) => (
        <Session key={each.id} own={each} seat={seat} />
      ))}
      {own.length > 0 && (
        <AddItem className="pl-4 text-sm" path={`${PATH}/sessions`} given={{ seat_id: seat.id }}>
          Add a session<span className="sr-only"> of {seat.name}</span>
        </AddItem>
      )}
    </div>
  );
}

function Session({ own, seat }: { own: WorkSession; seat: Seat }) {
  const path = `${PATH}/sessions/${own.id}`;
  const name = `${seat.name} ${own.number ?? 1}`;
  const its = fieldsIn("WorkSession", path, name);
  return (
    <div className="flex items-center gap-2 pl-4">
      {(seat.count ?? 1) > 1 && its("number", "which of them")}
      <span>from</span>
      {its("from_minute", "from")}
      <span>to</span>
      {its("to_minute", "to")}
      <RemoveItem path={path} name={`${name}: session`} />
    </div>
  );
}
