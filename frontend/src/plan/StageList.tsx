import { Link, NavLink } from "react-router";
import { usePlanTools, useSnapshot } from "./context";
import type { Panel } from "./panel";
import { BESIDE_VIEWS, STAGES } from "./stages";
import { Count } from "../kit/Count";
import { Button, LINK } from "../kit/Button";

/** The stages of the work with what is open in each, and what stands beside them. */
export function StageList({ setPanel }: { setPanel: (panel: Panel) => void }) {
  const { studio, planId } = usePlanTools();
  const { evaluation } = useSnapshot();
  const here = `/s/${studio}/plans/${planId}`;
  const open = evaluation.findings.filter((f) => !f.accepted_reason);
  return (
    <nav className="frame-stages" aria-label="Stages">
      <ul className="py-3">
        {STAGES.map((s) => (
          <li key={s.id}>
            <NavLink
              className="flex items-baseline gap-3 border-r-4 border-transparent py-2 pr-3 pl-4 aria-[current=page]:border-primary aria-[current=page]:bg-base-200 aria-[current=page]:font-[650]"
              to={`${s.is_of_studio ? `/s/${studio}` : here}/${s.id}`}
            >
              <span className="faint w-4 text-right text-sm">{s.number}</span>
              <span className="grow">{s.title}</span>
              <Count of={open.filter((f) => f.stage === s.id).length} what="open findings" />
            </NavLink>
          </li>
        ))}
      </ul>
      <ul className="flex-wrap space-y-1 border-t border-base-300 px-4 py-3 text-sm">
        <li>
          <Button look="text" onClick={() => setPanel({ kind: "findings" })}>
            Findings ({open.length})
          </Button>
        </li>
        <li>
          <Button look="text" onClick={() => setPanel({ kind: "history" })}>
            History
          </Button>
        </li>
        {BESIDE_VIEWS.map((v) => (
          <li key={v.id}>
            <Link className={LINK} to={`${here}/${v.id}`}>
              {v.title}
            </Link>
          </li>
        ))}
        <li>
          <a className={LINK} href={`/api/studios/${studio}/plans/${planId}/bundle`}>
            Plan file
          </a>
        </li>
        <li>
          <Button look="text" onClick={() => setPanel({ kind: "help" })}>
            Help
          </Button>
        </li>
      </ul>
    </nav>
  );
}
