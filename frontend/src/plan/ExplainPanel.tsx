import { valueText } from "../kit/format";
import { SidePanel } from "../kit/SidePanel";
import { useSnapshot } from "./context";
import { TermsTable } from "./TermsTable";
import { MoversTable, useWorking } from "./working";
import { Problem } from "../kit/Problem";

/** A figure's working: formula, the terms it was made of, source, and what would move it most. */
export function ExplainPanel({ figureId, onClose }: { figureId: string; onClose: () => void }) {
  const { document } = useSnapshot();
  const answer = useWorking(figureId, false);
  const moved = useWorking(figureId);
  const working = answer.data;
  const show = (value: number | string, unit: string) => valueText(value, unit, document.currency);
  return (
    <SidePanel title={working ? working.title : "Working"} onClose={onClose}>
      {answer.isPending && <p className="faint">Working it out …</p>}
      <Problem of={answer.error} />
      {working && (
        <>
          {working.value !== null && working.value !== undefined && (
            <p className="text-2xl font-semibold">{show(working.value, working.unit)}</p>
          )}
          <h3 className="mt-4">How it comes about</h3>
          <p>{working.formula || "It is entered, or follows from nothing else."}</p>
          {working.terms && (
            <>
              <h3 className="mt-4">From</h3>
              <TermsTable terms={working.terms} />
            </>
          )}
          {moved.isPending && <p className="faint mt-4">Looking for what would change it most …</p>}
          {moved.data && moved.data.movers.length > 0 && (
            <>
              <h3 className="mt-4">What would change it most</h3>
              <MoversTable working={moved.data} />
            </>
          )}
          {moved.data && moved.data.untried > 0 && (
            <p className="faint mt-2">
              {moved.data.untried} of the plan’s {moved.data.numbers} numbers were not tried: the
              time was over.
            </p>
          )}
          <h3 className="mt-4">Source</h3>
          <p className="faint">{working.source}</p>
        </>
      )}
    </SidePanel>
  );
}
