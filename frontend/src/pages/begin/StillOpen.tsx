import type { LineOut } from "../../api/client";
import { STAGE_TITLES } from "../../studio/stageTitles";

/** What the plan would still leave unsaid, and where it is said. */
export function StillOpen({ of }: { of: NonNullable<LineOut["open_work"]> }) {
  if (!of.length) return null;
  return (
    <section aria-label="Still open after this">
      <h2 className="text-base">Still open after this</h2>
      <ol>
        {of.map((each) => (
          <li key={each.words} className="flex justify-between gap-3 border-b border-base-300 py-1">
            <span>{each.words}</span>
            <span className="faint">{STAGE_TITLES.get(each.stage)}</span>
          </li>
        ))}
      </ol>
    </section>
  );
}
