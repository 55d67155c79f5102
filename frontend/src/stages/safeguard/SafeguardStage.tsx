import { useState } from "react";

import type { LayoutOdds, PoolOdds } from "../../api/client";
import { bothSizes, counted, hoursText } from "../../kit/format";
import { Waiting } from "../../kit/Notice";
import { Problem } from "../../kit/Problem";
import { Table } from "../../kit/Table";
import { Tabs } from "../../kit/Tabs";
import { LivedThrough } from "./LivedThrough";
import { OddsDrawing } from "./OddsDrawing";
import { useLayoutOdds, useSafeguard } from "./useSafeguard";

/** What redundancy carries, pool by pool, and the same drives in other layouts. */
export function SafeguardStage() {
  const answer = useSafeguard();
  const [chosen, setChosen] = useState("");
  const pools = answer.data?.pools ?? [];
  const pool = pools.find((each) => each.id === chosen) ?? pools[0];
  return (
    <div className="ask-answer">
      <section aria-label="Redundancy">
        <h2>What redundancy carries</h2>
        {!answer.data && !answer.error && <Waiting>Reckoning …</Waiting>}
        <Problem of={answer.error} />
        {answer.data && pools.length === 0 && (
          <p className="mt-1">There is no pool yet: add one in the tiers.</p>
        )}
        {pools.map((each) => (
          <p key={each.id} className="mt-1">
            {each.sentence}
          </p>
        ))}
        {pools.length > 0 && (
          <>
            <p className="mt-2 font-semibold">Redundancy is not a backup.</p>
            <p className="faint text-sm">{answer.data?.left_out}</p>
          </>
        )}
        {pool && pools.length > 1 && (
          <Tabs
            label="Pools"
            className="mt-4"
            tabs={pools.map(({ id, name }) => ({ id, name }))}
            chosen={pool.id}
            choose={setChosen}
          />
        )}
        {pool && <ReckonedFrom pool={pool} />}
        {pool && <LivedThrough poolId={pool.id} />}
      </section>
      {pool && <Layouts pool={pool} />}
    </div>
  );
}

const percent = (share: number) => `${Number((share * 100).toPrecision(2))} %`;

/** What a pool's odds come from. */
function ReckonedFrom({ pool }: { pool: PoolOdds }) {
  const groups = pool.groups > 1 ? `${pool.groups} groups of ${pool.members} drives` : "";
  const rows: [string, string][] = [
    [
      "Layout",
      `${pool.words}, ${groups || counted(pool.members, "drive")} once all bays are filled`,
    ],
    ["Survives", counted(pool.survives, "dead drive")],
    ["Drives that die in a year", percent(pool.deaths_a_year)],
    ["Bought in one batch", pool.same_batch ? "yes: others follow the first" : "no, or not said"],
    [
      "Until a new drive is in",
      pool.waits_hours ? hoursText(pool.waits_hours * 3600) : "at once, on a hot spare",
    ],
    ["Its rebuild, beside people", hoursText(pool.rebuild_hours * 3600)],
    [
      "The last rebuild meets an unreadable sector",
      `${percent(pool.fatal_read)}, and loses ${pool.reads_lose}`,
    ],
    ["A loss in a year", pool.odds.said],
    ["By data sheets, at most", pool.by_sheets.said],
  ];
  return (
    <>
      <h3 className="mt-4">{pool.name} is reckoned from</h3>
      <Table aria-label={`${pool.name} is reckoned from`}>
        <tbody>
          {rows.map(([what, said]) => (
            <tr key={what}>
              <td>{what}</td>
              <td className="text-right">{said}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <p className="faint mt-1 text-sm">
        Data sheets’ rates of unreadable sectors make every large set look hopeless; what a scrub
        finds and mends in time is what counts. The rates are house rules.
      </p>
    </>
  );
}

function Layouts({ pool }: { pool: PoolOdds }) {
  const rows = useLayoutOdds(pool.id);
  return (
    <section aria-label="Odds by layout" className="answer-column">
      <h2>The drives of {pool.name} in every layout</h2>
      <p className="faint text-sm">
        How likely data is lost in a year, from disks alone. Each step is a tenth of the one before;
        designs within a step are a tie. Hatched: most of it is a read error in the last rebuild.
      </p>
      <Problem of={rows.error} />
      {rows.data && (
        <>
          <OddsDrawing rows={rows.data} />
          <AsTable rows={rows.data} />
        </>
      )}
    </section>
  );
}

function AsTable({ rows }: { rows: readonly LayoutOdds[] }) {
  return (
    <Table className="mt-4" aria-label="Odds by layout">
      <tbody>
        {rows.map((row) => (
          <tr key={row.layout} className={row.is_current ? "font-semibold" : ""}>
            <td>
              {row.words}
              {row.is_current && <span className="faint"> as planned</span>}
            </td>
            <td className="num">{bothSizes(row.plannable_bytes)}</td>
            <td>{row.odds.said}</td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
