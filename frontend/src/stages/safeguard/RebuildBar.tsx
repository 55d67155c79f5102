import type { PoolOdds } from "../../api/client";
import { hoursText } from "../../kit/format";
import { Figure } from "../../plan/Figure";

const WIDTH = 620;
const LEAST = 24;

/** A disk dies: until a new one is in, then the rebuild, and what hangs by fewer drives meanwhile. */
export function RebuildBar({
  pool,
  aloneSeconds,
}: {
  pool: PoolOdds;
  aloneSeconds: number | null;
}) {
  const whole = pool.waits_hours + pool.rebuild_hours;
  if (!pool.survives || whole <= 0) return null;
  const x = pool.waits_hours ? Math.max((pool.waits_hours / whole) * WIDTH, LEAST) : 0;
  const alone = aloneSeconds === null ? "" : `, ${hoursText(aloneSeconds)} alone`;
  return (
    <section aria-label={`A drive of ${pool.name} dies`} className="mt-4">
      <h3>A drive of {pool.name} dies</h3>
      <svg className="drawing mt-1" viewBox={`0 0 720 40`} aria-hidden="true">
        {x > 0 && (
          <rect x="1" y="3" width={x - 1} height="14" className="hollow" strokeDasharray="4 3" />
        )}
        <rect x={x + 1} y="3" width={WIDTH - x} height="14" className="teal-soft ink" />
        <text x={WIDTH + 8} y="14" className="font-semibold">
          whole again
        </text>
        {x > 0 && (
          <text x="2" y="33" className="quiet">
            {x < 130 ? "wait" : "until a new one is in"} {hoursText(pool.waits_hours * 3600)}
          </text>
        )}
        <text x={Math.max(x + 2, x > 0 && x < 130 ? 90 : 0)} y="33">
          rebuild {hoursText(pool.rebuild_hours * 3600)} beside people{alone}
        </text>
      </svg>
      <p className="text-sm">
        Whole again after <Figure id={`odds.${pool.id}.hangs`}>{hoursText(whole * 3600)}</Figure>;
        another one dies before that {pool.next_death_said}
        {pool.survives > 1 && `, and it survives ${pool.survives}`}.
      </p>
    </section>
  );
}
