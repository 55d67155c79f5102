import { useState } from "react";

import type { LayoutOdds, PoolOdds } from "../../api/client";
import { bothSizes, counted, hoursText, shareText } from "../../kit/format";
import { Problem } from "../../kit/Problem";
import { Table } from "../../kit/Table";
import { Tabs } from "../../kit/Tabs";
import { useSnapshot } from "../../plan/context";
import { LivedThrough } from "./LivedThrough";
import { OddsDrawing } from "./OddsDrawing";
import { RebuildBar } from "./RebuildBar";
import { useLayoutOdds } from "./useSafeguard";

/** What redundancy carries, pool by pool, and the same drives in other layouts. */
export function Redundancy({ leftOut }: { leftOut: string }) {
  const { odds, tiers } = useSnapshot().evaluation;
  const [picked, choose] = useState("");
  const pool = odds.find((each) => each.id === picked) ?? odds[0];
  if (!pool) return <p className="mt-1">There is no pool yet: add one in the tiers.</p>;
  const alone = tiers.pools.find((each) => each.id === pool.id)?.rebuild_alone_seconds ?? null;
  return (
    <>
      {odds.length > 1 && (
        <Tabs
          label="Pools"
          className="mt-2"
          tabs={odds.map(({ id, name }) => ({ id, name }))}
          chosen={pool.id}
          choose={choose}
        />
      )}
      <p className="mt-2">{pool.sentence}</p>
      <RebuildBar pool={pool} aloneSeconds={alone} />
      <Layouts pool={pool} />
      <ReckonedFrom pool={pool} />
      <LivedThrough poolId={pool.id} />
      <p className="faint mt-3 text-sm">{leftOut}</p>
    </>
  );
}

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
    [
      "Bought in one batch",
      pool.batch_times > 1 ? "yes: others follow the first" : "no, or not said",
    ],
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

const percent = (share: number) => shareText(Number(share.toPrecision(2)));

function Layouts({ pool }: { pool: PoolOdds }) {
  const rows = useLayoutOdds(pool.id);
  return (
    <section aria-label="Odds by layout" className="mt-4">
      <h3>The drives of {pool.name} in every layout</h3>
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
