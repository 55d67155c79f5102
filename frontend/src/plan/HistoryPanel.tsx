import { SidePanel } from "../kit/SidePanel";
import { usePlanTools, useSnapshot } from "./context";
import { RevisionList } from "./RevisionList";

/** Every saved state, newest first; any of them can be brought back as a new revision. */
export function HistoryPanel({ onClose }: { onClose: () => void }) {
  const { session, studio, planId, mayWrite } = usePlanTools();
  const { plan } = useSnapshot();
  return (
    <SidePanel title="History" onClose={onClose}>
      <RevisionList
        studio={studio}
        planId={planId}
        head={plan.head}
        onRestore={mayWrite ? (revision) => void session.restore(revision) : undefined}
      />
    </SidePanel>
  );
}
