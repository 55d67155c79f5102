import { useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";

import {
  client,
  dataOf,
  Failure,
  type Advice,
  type JudgedDesign,
  type SchoolAnswer,
} from "../../api/client";
import { Button, LINK } from "../../kit/Button";
import { moneyText, sizeText, wholeText } from "../../kit/format";
import { Waiting } from "../../kit/Notice";
import { Problem } from "../../kit/Problem";
import { Heads, Table } from "../../kit/Table";
import { Tabs } from "../../kit/Tabs";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { OwnerPageLinks } from "../../plan/OwnerPageLinks";
import { Disagreements } from "./Disagreements";
import { MoreCosts } from "./MoreCosts";
import { SchoolDrawing } from "./SchoolDrawing";
import { SearchStanding } from "./SearchStanding";
import { useAdvice, useOpenDesign } from "./useAdvice";
import { WhyNotThat } from "./WhyNotThat";

const VIEWS = [
  { id: "schools", name: "Schools" },
  { id: "why", name: "Why this, why not that" },
  { id: "disagree", name: "Where people disagree" },
] as const;
type View = (typeof VIEWS)[number]["id"];
const LOOKING = "Looking at every design that the catalogue allows …";

/** Designs for the brief, the best of each school, and why the others lose. */
export function SchoolStage() {
  const [view, setView] = useState<View>("schools");
  const [chosen, choose] = useState("");
  const { advice, isWhole, search, error } = useAdvice();
  const school = advice?.schools.find((each) => each.id === chosen);
  return (
    <div className="ask-answer">
      <section aria-label="Designs">
        <h2>Which school serves this brief</h2>
        {error && <NoAdvice error={error} />}
        {(search ? !isWhole : !advice && !error) && (
          <SearchStanding search={search} words={LOOKING} />
        )}
        {advice && <Found advice={advice} />}
        {advice?.today && <Today standing={advice.today} />}
        <div className="mt-3">
          <OwnerPageLinks />
        </div>
      </section>
      <section aria-label="Schools" className="answer-column">
        <Tabs label="What is looked at" tabs={VIEWS} chosen={view} choose={setView} />
        {view === "disagree" && <Disagreements hangsOn={search ? String(isWhole) : ""} />}
        {view === "why" && advice && <Why advice={advice} />}
        {view === "schools" && advice && (
          <>
            <h3 className="mt-2">One line a school, ending where it fails</h3>
            <div className="overflow-x-auto">
              <SchoolDrawing schools={advice.schools} chosen={chosen} choose={choose} />
            </div>
            {!search && !isWhole && <Waiting>Asking the others what would have to give …</Waiting>}
            {school ? (
              <OneSchool key={school.id} school={school} />
            ) : (
              <p className="faint mt-1">Choose a school to read what it comes to here.</p>
            )}
            <SchoolTable schools={advice.schools} />
          </>
        )}
      </section>
    </div>
  );
}

/** Whether the catalogue stands in the way: the fields that the refusal names are its. */
const lacksPrices = (error: Error) =>
  error instanceof Failure &&
  Boolean(error.envelope?.problems.some((problem) => problem.field.startsWith("catalogue/")));

/** Why there can be no advice, with what would help where prices lack. */
function NoAdvice({ error }: { error: Error }) {
  const { session, studio, planId, mayWrite } = usePlanTools();
  const price = async () => {
    const { patch } = await dataOf(
      client.POST("/api/studios/{studio}/plans/{plan_id}/advise/prices", {
        params: { path: { studio, plan_id: planId } },
        body: session.question,
      }),
    );
    session.change(...patch);
  };
  return (
    <>
      <Problem of={error} />
      {mayWrite && lacksPrices(error) && (
        <p className="mt-2">
          <Button onClick={() => void price()}>Begin with made-up prices of usual classes</Button>
          <span className="faint ml-2 text-sm">
            They are of one day, of no seller, and to be replaced by your own list.
          </span>
        </p>
      )}
    </>
  );
}

/** How many were looked at, the few that can be told apart, and what each may become. */
function Found({ advice }: { advice: Advice }) {
  const { designs } = advice;
  const said = designs.length
    ? `${wholeText(advice.worth)} of them are worth a thought, and ${designs.length} can be told apart${
        advice.target === "tight" ? "; they only just do" : ""
      }.`
    : `none of them keeps to everything that the brief asks${advice.smallest ? ", but something smaller does" : ""}.`;
  return (
    <>
      <p className="mt-1">
        {wholeText(advice.looked_at)} designs are possible; {said}
      </p>
      {advice.conflict && <p className="mt-2 border-l-4 border-error pl-3">{advice.conflict}</p>}
      {designs.length > 0 && <Designs designs={designs} />}
      {advice.smallest && <p className="mt-3">{advice.smallest}</p>}
      {designs.length > 0 && <MoreCosts />}
      {advice.left_out.map((said_out) => (
        <p key={said_out} className="faint mt-2 text-sm">
          {said_out}.
        </p>
      ))}
    </>
  );
}

function Designs({ designs }: { designs: readonly JudgedDesign[] }) {
  const { mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  const { goTo, open } = useOpenDesign();
  return (
    <>
      <Table aria-label="Designs" className="mt-2">
        <Heads of={["Design", "#Five years", "#Plannable", "#Speed", "-Open"]} />
        <tbody>
          {designs.map((design) => (
            <tr key={design.key}>
              <td>
                <b className="font-semibold">{design.letter}</b> {design.title}
                {design.gap && <span className="faint block text-sm">{design.gap}</span>}
              </td>
              <td className="num">
                {moneyText(
                  Math.round(Number(design.measured.five_years)),
                  design.measured.currency,
                )}
              </td>
              <td className="num">{sizeText(design.measured.plannable_bytes)}</td>
              <td className="num">
                {design.measured.speed_ratio === null
                  ? "–"
                  : `×${design.measured.speed_ratio?.toFixed(2)}`}
              </td>
              <td>
                {mayWrite && (
                  <Button
                    look="text"
                    disabled={open.isPending}
                    onClick={() => goTo(design, nameOf(document.plan.name, design))}
                  >
                    Open
                    <span className="sr-only"> design {design.letter} as a plan</span>
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      <Problem of={open.error} />
      <p className="mt-1 flex gap-4">
        {mayWrite && designs.length > 1 && <CompareThem designs={designs} />}
        <Link className={LINK} to="../compare">
          Compare plans
        </Link>
      </p>
    </>
  );
}

const nameOf = (plan: string, design: JudgedDesign) =>
  `${plan}, design ${design.letter || design.school_id}`.slice(0, 80);

const MOST_COMPARED = 3;

/** The first few become plans and are gone to beside this one. */
function CompareThem({ designs }: { designs: readonly JudgedDesign[] }) {
  const { document } = useSnapshot();
  const { studio, planId } = usePlanTools();
  const navigate = useNavigate();
  const { open } = useOpenDesign();
  const some = designs.slice(0, MOST_COMPARED);
  const compare = async () => {
    const ids = [];
    for (const design of some) {
      const made = await open.mutateAsync({ design, name: nameOf(document.plan.name, design) });
      ids.push(made.id);
    }
    await navigate(`/s/${studio}/plans/${planId}/compare?with=${ids.join(",")}`);
  };
  return (
    <Button look="text" disabled={open.isPending} onClick={() => void compare()}>
      Compare {some.map((design) => design.letter).join(", ")} with this plan
    </Button>
  );
}

function Today({ standing }: { standing: NonNullable<Advice["today"]> }) {
  return (
    <div className="mt-4 border-l-4 border-primary pl-3">
      <b className="font-semibold">{standing.name}, as it stands</b>
      <p>{standing.sentence}</p>
    </div>
  );
}

function OneSchool({ school }: { school: SchoolAnswer }) {
  const { mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  const { goTo, open } = useOpenDesign();
  const { design } = school;
  const shown = useRef<HTMLDivElement>(null);
  useEffect(() => {
    shown.current?.scrollIntoView({ block: "nearest" });
  }, []);
  return (
    <div className="mt-2" ref={shown}>
      <h3>{school.name}</h3>
      <p className="faint">{school.fits}</p>
      <p className="mt-1">{school.sentence}</p>
      {design && (
        <>
          <ul className="mt-1 list-disc pl-5">
            {[...design.why, ...design.parts].map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
          {mayWrite && (
            <Button
              look="text"
              disabled={open.isPending}
              onClick={() => goTo(design, nameOf(document.plan.name, design))}
            >
              Open it as a plan
            </Button>
          )}
          <Problem of={open.error} />
        </>
      )}
    </div>
  );
}

const SAID = {
  serves: "serves",
  just: "just serves",
  fails: "fails",
  nothing: "not possible",
  unasked: "not asked yet",
} as const;

/** What the drawing says, for those who hear it. */
function SchoolTable({ schools }: { schools: readonly SchoolAnswer[] }) {
  return (
    <Table className="sr-only" aria-label="Schools">
      <Heads of={["School", "Verdict", "What it comes to"]} />
      <tbody>
        {schools.map((school) => (
          <tr key={school.id}>
            <td>{school.name}</td>
            <td>{SAID[school.verdict]}</td>
            <td>{school.sentence}</td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

/** What binds, why the cheapest is what it is, and anything that one points at. */
function Why({ advice }: { advice: Advice }) {
  const [cheapest] = advice.designs;
  return (
    <>
      {cheapest && (
        <>
          <h3 className="mt-2">Why design {cheapest.letter}</h3>
          <p>Of all that keep to every need it costs least over five years: {cheapest.title}.</p>
          <ul className="mt-1 list-disc pl-5">
            {cheapest.why.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </>
      )}
      <h3 className="mt-4">What binds</h3>
      <Table aria-label="What binds">
        <Heads of={["Need", "#Rules out by itself"]} />
        <tbody>
          {advice.binds.map((bind) => (
            <tr key={bind.need}>
              <td>{bind.words}</td>
              <td className="num">
                {(bind.rules_out * 100).toFixed(0)} % of boxes with their pools
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      <WhyNotThat />
    </>
  );
}
