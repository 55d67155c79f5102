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

type Bar = ReturnType<typeof bars>[number];
const nameOf = (bar: Bar): string => LABELS[bar.step] ?? stepLabel(bar.step);

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
        aria-label={`Capacity from carton to plannable: ${shown.map((b) => `${nameOf(b)} ${sizeText(b.bytes)}`).join(", ")}`}
      >
        {shown.map((bar, index) => (
          <Step key={bar.step} bar={bar} y={index * ROW + 3} scale={scale} />
        ))}
      </svg>
      <Behind className="mt-1" title="As a table">
        <Table className="max-w-md">
          <tbody>
            {shown.map((bar) => (
              <tr key={bar.step}>
                <td>{nameOf(bar)}</td>
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

function Step({ bar, y, scale }: { bar: Bar; y: number; scale: number }) {
  const isTotal = bar.step === "raw" || bar.step === "plannable";
  const hatch = bar.step === "redundancy" ? "url(#hatch-copper)" : "url(#hatch-ink)";
  return (
    <g>
      <text x="0" y={y + 15} className={isTotal ? "font-semibold" : ""}>
        {nameOf(bar)}
      </text>
      <rect
        x={LABEL + bar.from * scale}
        y={y}
        width={Math.max((bar.to - bar.from) * scale, 1.5)}
        height={ROW - 8}
        className={isTotal ? "fill-primary" : "ink"}
        fill={isTotal ? undefined : hatch}
        strokeWidth={isTotal ? 0 : 1}
      />
      <text
        x={LABEL + Math.max(bar.to, bar.from) * scale + 10}
        y={y + 15}
        className={isTotal ? "font-semibold" : ""}
      >
        {isTotal ? bothSizes(bar.bytes) : `−${sizeText(-bar.bytes)}`}
      </text>
    </g>
  );
}
