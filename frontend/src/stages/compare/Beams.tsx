import type { SideBySide } from "../../api/client";
import { Beam } from "../../kit/Beam";
import { SCALES } from "../../studio/scaleWords";

type Measured = SideBySide["columns"][number]["measured"];

/** The four scales of one plan, each with its verdict in words. */
export function Beams({ measured }: { measured: Measured }) {
  return (
    <ul className="grid max-w-60 grid-cols-[repeat(auto-fill,minmax(6.4rem,1fr))] gap-x-2 gap-y-1">
      {SCALES.map(([id, name]) => {
        const verdict = measured.verdicts[id] ?? "open";
        return (
          <li key={id} className="flex items-center gap-1.5">
            <Beam verdict={verdict} ratio={measured.ratios[id] ?? null} size={34} />
            <span className="leading-tight">
              <span className="faint block text-xs">{name}</span>
              <span className={`state-${verdict} text-sm font-semibold`}>{verdict}</span>
            </span>
          </li>
        );
      })}
    </ul>
  );
}
