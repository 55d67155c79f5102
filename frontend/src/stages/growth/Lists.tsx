import { client, dataOf, type ReadingsOut } from "../../api/client";
import { LINK } from "../../kit/Button";
import { Entry, Fold } from "../../kit/Fold";
import { counted, dateText, sizeText } from "../../kit/format";
import { Heads, Table } from "../../kit/Table";
import { AddItem } from "../../plan/AddItem";
import { AllFields } from "../../plan/AllFields";
import { BringCsv } from "../../plan/BringCsv";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { Choice, Quantity, RefusedHere, TextField, type Option } from "../../plan/fields";
import { RemoveItem, RemoveLine } from "../../plan/ItemFieldset";

const GROWTH = "plan/growth";
const SHOWN = 24;

const usePools = (): Option[] =>
  (useSnapshot().document.plan.pools ?? []).map((pool): Option => [pool.id, pool.name]);

/** What is bought when a pool is full, in its order. */
export function Steps() {
  const { document, evaluation } = useSnapshot();
  const steps = document.plan.growth?.steps ?? [];
  const told = new Map(
    evaluation.growth.tiers.flatMap((tier) => tier.steps).map((step) => [step.id, step]),
  );
  const pools = usePools();
  return (
    <Fold
      title="Bought when it is full"
      said={counted(steps.length, "purchase")}
      open={steps.length > 0}
    >
      {steps.map((step) => {
        const path = `${GROWTH}/steps/${step.id}`;
        const own = told.get(step.id);
        return (
          <Entry
            key={step.id}
            name={step.name}
            figure={own ? `adds ${sizeText(own.adds_bytes)}` : ""}
            open={false}
          >
            <p className="faint">{own && stepText(own)}</p>
            <Choice field="Step.pool_id" path={`${path}/pool_id`} options={pools} />
            <AllFields model="Step" path={path} skip={["pool_id"]} />
            <RemoveLine path={path} name={step.name} />
          </Entry>
        );
      })}
      <RefusedHere path={`${GROWTH}/steps`} />
      <AddItem path={`${GROWTH}/steps`}>Add a later purchase</AddItem>
    </Fold>
  );
}

type Told = ReturnType<
  typeof useSnapshot
>["evaluation"]["growth"]["tiers"][number]["steps"][number];

const stepText = (step: Told) => {
  if (step.why_not) return `Not possible: ${step.why_not}.`;
  if (!step.order_by || !step.in_use_on) return "Not needed within the years that are drawn.";
  const when = step.is_late ? "Should be ordered already" : `Order by ${dateText(step.order_by)}`;
  const sale = step.sale ? ` ${step.sale} comes before.` : "";
  return `${when}; in use from ${dateText(step.in_use_on)}.${sale}`;
};

/** What was read from the pools; typed or by CSV. */
export function Readings() {
  const { document } = useSnapshot();
  const { studio, planId, mayWrite } = usePlanTools();
  const readings = (document.plan.growth?.readings ?? []).toSorted((a, b) =>
    b.read_on.localeCompare(a.read_on),
  );
  return (
    <Fold title="Readings" said={counted(readings.length, "reading")} open={false}>
      <p className="faint text-sm">
        What lay on a pool on a day. From two of them on the forecast follows what really came.
      </p>
      {readings.length > 0 && <ReadingRows readings={readings.slice(0, SHOWN)} />}
      {readings.length > SHOWN && (
        <p className="faint text-sm">
          {readings.length - SHOWN} older ones are in the CSV and in the forecast.
        </p>
      )}
      <RefusedHere path={`${GROWTH}/readings`} />
      <p className="mt-1 flex flex-wrap gap-4">
        <AddItem path={`${GROWTH}/readings`}>Add a reading</AddItem>
        {readings.length > 0 && (
          <a className={LINK} href={`/api/studios/${studio}/plans/${planId}/readings.csv`}>
            All as CSV
          </a>
        )}
      </p>
      {mayWrite && <BringReadings />}
    </Fold>
  );
}

type ReadingRow = NonNullable<
  NonNullable<ReturnType<typeof useSnapshot>["document"]["plan"]["growth"]>["readings"]
>[number];

function ReadingRows({ readings }: { readings: readonly ReadingRow[] }) {
  const pools = usePools();
  return (
    <Table aria-label="Readings">
      <Heads of={["Day", "Pool", "#Used, TB", "Of the project", "-Remove"]} />
      <tbody>
        {readings.map((reading) => {
          const path = `${GROWTH}/readings/${reading.id}`;
          const label = `${reading.read_on}`;
          return (
            <tr key={reading.id}>
              <td>
                <TextField
                  bare
                  type="date"
                  field="Reading.read_on"
                  path={`${path}/read_on`}
                  label={`${label}: day`}
                />
              </td>
              <td>
                <Choice
                  bare
                  field="Reading.pool_id"
                  path={`${path}/pool_id`}
                  options={pools}
                  label={`${label}: pool`}
                />
              </td>
              <td className="num">
                <Quantity
                  bare
                  field="Reading.used_bytes"
                  path={`${path}/used_bytes`}
                  label={`${label}: used`}
                />
              </td>
              <td>
                <TextField
                  bare
                  field="Reading.project"
                  path={`${path}/project`}
                  label={`${label}: of the project`}
                />
              </td>
              <td>
                <RemoveItem path={path} name={`the reading of ${reading.read_on}`} />
              </td>
            </tr>
          );
        })}
      </tbody>
    </Table>
  );
}

/** Readings from a CSV. */
function BringReadings() {
  const { session, studio, planId } = usePlanTools();
  return (
    <BringCsv<ReadingsOut>
      look={(text) =>
        dataOf(
          client.POST("/api/studios/{studio}/plans/{plan_id}/growth/read", {
            params: { path: { studio, plan_id: planId } },
            body: { ...session.question, text },
          }),
        )
      }
      said={(read) => (
        <>
          {counted(read.added, "new reading")}, {counted(read.replaced, "reading")} replaced
        </>
      )}
    >
      Bring readings as CSV: date,pool,used and, where it is known, project
    </BringCsv>
  );
}

/** Days on which things are cheaper. */
export function Sales() {
  const sales = useSnapshot().document.plan.growth?.sales ?? [];
  return (
    <Fold title="Sales" said={counted(sales.length, "sale")} open={false}>
      <p className="faint text-sm">
        The last one that opens before the day to order by is named beside it.
      </p>
      {sales.map((sale) => {
        const path = `${GROWTH}/sales/${sale.id}`;
        return (
          <Entry key={sale.id} name={sale.name} figure={dateText(sale.opens_on)} open={false}>
            <AllFields model="Sale" path={path} />
            <RemoveLine path={path} name={sale.name} />
          </Entry>
        );
      })}
      <RefusedHere path={`${GROWTH}/sales`} />
      <AddItem path={`${GROWTH}/sales`}>Add a sale</AddItem>
    </Fold>
  );
}

/** Battery supplies. */
export function Batteries() {
  const batteries = useSnapshot().document.plan.mains?.batteries ?? [];
  return (
    <Fold
      title="Battery supplies"
      said={counted(batteries.length, "battery supply", "battery supplies")}
    >
      {batteries.map((battery) => {
        const path = `plan/mains/batteries/${battery.id}`;
        return (
          <Entry
            key={battery.id}
            name={battery.name}
            figure={`${battery.energy_wh} Wh`}
            open={false}
          >
            <AllFields model="Battery" path={path} />
            <RemoveLine path={path} name={battery.name} />
          </Entry>
        );
      })}
      <RefusedHere path="plan/mains/batteries" />
      <AddItem path="plan/mains/batteries">Add a battery supply</AddItem>
    </Fold>
  );
}
