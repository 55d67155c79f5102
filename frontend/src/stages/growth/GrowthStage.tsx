import { useState } from "react";

import { Button } from "../../kit/Button";
import { dateText } from "../../kit/format";
import { Waiting } from "../../kit/Notice";
import { Problem } from "../../kit/Problem";
import { Tabs } from "../../kit/Tabs";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { Figure } from "../../plan/Figure";
import { FirstHelp } from "../../plan/FirstHelp";
import { Choice, Quantity, Tick } from "../../plan/fields";
import { Costs } from "./Costs";
import { Grown, Ways } from "./Ways";
import { GrowthDrawing } from "./GrowthDrawing";
import { Batteries, Readings, Sales, Steps } from "./Lists";
import { PickList } from "./PickList";
import { PowerRoom } from "./PowerRoom";
import { Prices } from "./Prices";
import { useGrowth } from "./useGrowth";
import { YearTable } from "./YearTable";

const VIEWS = [
  { id: "fill", name: "What fits, what it costs" },
  { id: "ways", name: "Ways to grow" },
  { id: "pick", name: "Pick list" },
  { id: "prices", name: "What a TB costs" },
  { id: "room", name: "Power and room" },
] as const;
type View = (typeof VIEWS)[number]["id"];

/** When it is full, what is bought then, what it costs over years, and what the room has to bear. */
export function GrowthStage() {
  const [view, setView] = useState<View>("fill");
  return (
    <div className="ask-answer">
      <section aria-label="Growth">
        <Asked look={setView} />
      </section>
      <section aria-label="Over the years" className="answer-column">
        <Tabs label="What is looked at" tabs={VIEWS} chosen={view} choose={setView} />
        {view === "fill" && <Filled />}
        {view === "pick" && <PickList />}
        {view === "room" && <PowerRoom />}
        {(view === "ways" || view === "prices") && <Answered view={view} />}
      </section>
    </div>
  );
}

/** The answer in a sentence for every tier, what it costs, and what grows. */
function Asked({ look }: { look: (view: View) => void }) {
  const { growth } = useSnapshot().evaluation;
  // All of it together says nothing new while one of its tiers is full before it.
  const isSaid = (id: string) => id !== "all" || growth.first === "all";
  const said = growth.tiers.filter((tier) => isSaid(tier.id));
  return (
    <>
      <h2>When it is full</h2>
      {growth.tiers.length === 0 && <p className="mt-1">{growth.sentence}</p>}
      {said.map((tier) => (
        <p key={tier.id} className="mt-1">
          {tier.sentence} <OrderBy tier={tier} />
        </p>
      ))}
      {growth.tiers.length > 0 && (
        <Button look="text" onClick={() => look("ways")}>
          What can be bought then
        </Button>
      )}
      <FirstHelp stage="growth" />
      <Costs />
      <h3 className="mt-4">What comes</h3>
      <Quantity field="Brief.growth_percent_per_year" path="plan/brief/growth_percent_per_year" />
      <Tick field="Growth.calendar_repeats" path="plan/growth/calendar_repeats" />
      <Steps />
      <Readings />
      <Sales />
      <Room />
      <Batteries />
    </>
  );
}

type Tier = ReturnType<typeof useSnapshot>["evaluation"]["growth"]["tiers"][number];

/** By when to order, which opens its working, and the sale that comes before. */
function OrderBy({ tier }: { tier: Tier }) {
  if (!tier.order_by) return null;
  return (
    <>
      {tier.is_late ? "Should have been ordered by" : "Order by"}{" "}
      <Figure id={`growth.${tier.id}.orders`}>{dateText(tier.order_by)}</Figure>
      {tier.sale && `; ${tier.sale} comes before`}.
    </>
  );
}

/** The room's limits stand in the brief as well: they are what power and noise are held against. */
function Room() {
  const limits = "plan/brief/limits/room";
  return (
    <>
      <h3 className="mt-4">The room</h3>
      <Quantity field="Room.circuit_watts" path={`${limits}/circuit_watts`} />
      <Quantity field="Room.noise_dba_max" path={`${limits}/noise_dba_max`} />
      <Choice field="Room.air" path={`${limits}/air`} />
      <Quantity field="Room.air_m3_per_h" path={`${limits}/air_m3_per_h`} />
      <Quantity field="Mains.spin_down_minutes" path="plan/mains/spin_down_minutes" />
      <Quantity field="Mains.archive_uses_per_day" path="plan/mains/archive_uses_per_day" />
    </>
  );
}

function Filled() {
  const { growth, bands } = useSnapshot().evaluation;
  const [chosen, choose] = useState("");
  const tier =
    growth.tiers.find((each) => each.id === chosen) ??
    growth.tiers.find((each) => each.id === growth.first);
  if (!tier) return <p className="mt-2">{growth.sentence}</p>;
  const points = bands[tier.id] ?? [];
  return (
    <>
      {growth.tiers.length > 1 && (
        <p className="mt-2 flex gap-4">
          {growth.tiers.map((each) => (
            <Button
              key={each.id}
              look="text"
              aria-pressed={each.id === tier.id}
              className={each.id === tier.id ? "font-semibold" : ""}
              onClick={() => choose(each.id)}
            >
              {each.name}
            </Button>
          ))}
        </p>
      )}
      <GrowthDrawing tier={tier} points={points} />
      <p className="faint text-sm">
        Within the band lie eight of ten courses; the heavy line is the middle. Stepped: what may be
        planned with. Flags: ordered by the early edge, less {tier.lead_days} days from order to
        use. Prices are those of today, without interest.
      </p>
      <YearTable tier={tier} points={points} />
    </>
  );
}

function Answered({ view }: { view: "ways" | "prices" }) {
  const answer = useGrowth();
  const { mayWrite } = usePlanTools();
  if (!answer.data) {
    return answer.error ? <Problem of={answer.error} /> : <Waiting>Reckoning …</Waiting>;
  }
  const { pools, earlier, projects, drive_prices } = answer.data;
  if (view === "prices") return <Prices rows={drive_prices} />;
  return (
    <>
      <Ways pools={pools} mayWrite={mayWrite} />
      <Grown earlier={earlier ?? null} projects={projects} />
    </>
  );
}
