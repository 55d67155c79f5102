import type { GrowthAsked } from "../../api/client";
import { Button } from "../../kit/Button";
import { Cautions } from "../../kit/Cautions";
import { dateText, hoursText, moneyText, sizeText } from "../../kit/format";
import { Heads, Table } from "../../kit/Table";
import { usePlanTools, useSnapshot } from "../../plan/context";

/** The ways out of every pool when it is full, with what its layout does not allow. */
export function Ways({ pools, mayWrite }: { pools: GrowthAsked["pools"]; mayWrite: boolean }) {
  return (
    <>
      {pools.map((pool) => (
        <section key={pool.pool_id} aria-label={`Ways of ${pool.name}`} className="mt-3">
          <h3>{pool.name}</h3>
          <Table>
            <Heads of={["Way", "#Adds", "#Takes", "#Costs", "#A TB more", "-Plan it"]} />
            <tbody>
              {pool.ways.map((way) => (
                <WayRow key={way.name} way={way} pool={pool.name} mayWrite={mayWrite} />
              ))}
              <tr>
                <td>One parity drive more</td>
                <td colSpan={5} className="faint text-right">
                  {pool.more_parity}
                </td>
              </tr>
            </tbody>
          </Table>
        </section>
      ))}
      <p className="faint mt-2 text-sm">
        What is planned is bought when the pool is full by the early edge of its band, one after the
        other. Times are under load, at the share that a rebuild gets.
      </p>
      <Cautions of={["drives"]} />
    </>
  );
}

function WayRow({
  way,
  pool,
  mayWrite,
}: {
  way: GrowthAsked["pools"][number]["ways"][number];
  pool: string;
  mayWrite: boolean;
}) {
  const { currency } = useSnapshot().document;
  const { session } = usePlanTools();
  const money = (amount: string | null | undefined) =>
    amount ? moneyText(Math.round(Number(amount)), currency ?? "EUR") : "no price";
  return (
    <tr>
      <td>
        {way.name}
        <span className="faint block text-sm">{way.why_not || way.risk}</span>
      </td>
      {way.why_not ? (
        <td colSpan={5} className="faint text-right">
          not possible
        </td>
      ) : (
        <>
          <td className="num">{sizeText(way.adds_bytes)}</td>
          <td className="num">{way.takes_seconds ? hoursText(way.takes_seconds) : "at once"}</td>
          <td className="num">{money(way.price)}</td>
          <td className="num">{money(way.price_per_tb)}</td>
          <td>
            {mayWrite && (
              <Button look="text" onClick={() => session.change(...way.patch)}>
                Plan it
                <span className="sr-only">
                  : {way.name} for {pool}
                </span>
              </Button>
            )}
          </td>
        </>
      )}
    </tr>
  );
}

/** What retiring a week earlier buys, what snapshots hold, and which project grew. */
export function Grown({
  earlier,
  projects,
}: {
  earlier: GrowthAsked["earlier"];
  projects: GrowthAsked["projects"];
}) {
  const { evaluation } = useSnapshot();
  return (
    <>
      <h3 className="mt-4">What else makes room</h3>
      {earlier && (
        <p>
          Everything retired to the archive a week earlier frees {sizeText(earlier.freed_bytes)} for
          work at the fullest, {earlier.words}.
        </p>
      )}
      {evaluation.snapshots.map((held) => (
        <p key={held.pool_id}>
          {held.name}: snapshots of {held.days} days hold {sizeText(held.held_bytes)} that was
          deleted and is not free yet; {sizeText(held.reserve_bytes)} are reserved for it.
        </p>
      ))}
      {!earlier && evaluation.snapshots.length === 0 && (
        <p className="faint">No snapshots hold anything, and there is no archive to retire to.</p>
      )}
      {projects.length > 0 && (
        <>
          <h3 className="mt-4">Which project grew</h3>
          <Table>
            <Heads of={["Project", "From", "Until", "#Grew", "#Holds"]} />
            <tbody>
              {projects.map((each) => (
                <tr key={`${each.project}${each.pool_id}`}>
                  <td>{each.project}</td>
                  <td>{dateText(each.since)}</td>
                  <td>{dateText(each.until)}</td>
                  <td className="num">{sizeText(each.grown_bytes)}</td>
                  <td className="num">{sizeText(each.used_bytes)}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        </>
      )}
    </>
  );
}
