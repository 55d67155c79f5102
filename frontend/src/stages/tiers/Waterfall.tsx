import type { Evaluation } from "../../api/client";
import { Figure } from "../../plan/Figure";
import { bothSizes, sizeText, stepLabel } from "../../kit/format";
import { bars } from "./waterfall";
import { Behind } from "../../kit/Fold";
import { Table } from "../../kit/Table";

const WIDTH = 720;
const LABEL = 150;
const VALUES = 165;
const ROW = 27;

const LABELS: Record<string, string> = {
  raw: "Carton",
  redundancy: "Copies or parity",
  headroom: "Free-space headroom",
};

/** A pool's, or the whole plan's. */
type Fall = Pick<Evaluation["tiers"], "waterfall" | "plannable_bytes" | "raw_bytes">;

/** One bar a step from the carton to the plannable bytes; steps that take nothing are left out. */
export function Waterfall({ of, figure }: { of: Fall; figure?: string }) {
  const shown = bars(of.waterfall, of.plannable_bytes);
  const scale = (WIDTH - LABEL - VALUES) / Math.max(of.raw_bytes, 1);
  return (
    <>
      <svg
        className="drawing mt-1"
        viewBox={`0 0 ${WIDTH} ${shown.length * ROW + 4}`}
        role="img"
        aria-label={`Capacity from carton to plannable: ${shown.map((b) => `${LABELS[b.step] ?? stepLabel(b.step)} ${sizeText(b.bytes)}`).join(", ")}`}
      >
        {shown.map((bar, index) => {
          const y = index * ROW + 3;
          const x = LABEL + bar.from * scale;
          const width = Math.max((bar.to - bar.from) * scale, 1.5);
          const total = bar.step === "raw" || bar.step === "plannable";
          const fill = total
            ? undefined
            : bar.step === "redundancy"
              ? "url(#hatch-copper)"
              : "url(#hatch-ink)";
          return (
            <g key={bar.step}>
              <text x="0" y={y + 15} className={total ? "font-semibold" : ""}>
                {LABELS[bar.step] ?? stepLabel(bar.step)}
              </text>
              <rect
                x={x}
                y={y}
                width={width}
                height={ROW - 8}
                className={total ? "fill-primary" : "ink"}
                fill={fill}
                strokeWidth={total ? 0 : 1}
              />
              <text
                x={LABEL + Math.max(bar.to, bar.from) * scale + 10}
                y={y + 15}
                className={total ? "font-semibold" : ""}
              >
                {total ? bothSizes(bar.bytes) : `−${sizeText(-bar.bytes)}`}
              </text>
            </g>
          );
        })}
      </svg>
      <Behind className="mt-1" title="As a table">
        <Table className="max-w-md">
          <tbody>
            {shown.map((bar) => (
              <tr key={bar.step}>
                <td>{LABELS[bar.step] ?? stepLabel(bar.step)}</td>
                <td className="num">{bothSizes(bar.bytes)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Behind>
      {figure && (
        <p className="mt-2">
          Plannable <Figure id={figure}>{bothSizes(of.plannable_bytes)}</Figure>
        </p>
      )}
    </>
  );
}
