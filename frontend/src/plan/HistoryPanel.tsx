import { useQuery } from "@tanstack/react-query";

import { client, dataOf } from "../api/client";
import { agoText } from "../kit/format";
import { SidePanel } from "../kit/SidePanel";
import { usePlanTools, useSnapshot } from "./context";

/** Every saved state, newest first; any of them can be brought back as a new revision. */
export function HistoryPanel({ onClose }: { onClose: () => void }) {
  const { session, studio, planId, mayWrite } = usePlanTools();
  const { plan } = useSnapshot();
  const rows = useQuery({
    queryKey: ["revisions", planId, plan.head],
    queryFn: () =>
      dataOf(
        client.GET("/api/studios/{studio}/plans/{plan_id}/revisions", {
          params: { path: { studio, plan_id: planId } },
        }),
      ),
    placeholderData: (before) => before,
  });
  const now = rows.dataUpdatedAt;
  return (
    <SidePanel title="History" onClose={onClose}>
      {rows.isError && <p className="problem">{rows.error.message}</p>}
      <ol className="space-y-2">
        {rows.data?.map((row) => (
          <li key={row.number} className="border-b border-base-300 pb-2">
            <div className="flex items-baseline justify-between gap-3">
              <b className="font-semibold">Revision {row.number}</b>
              <span className="faint text-sm">
                {row.author ?? "somebody who left"}, {agoText(row.created_at, now)}
              </span>
            </div>
            <p>{row.summary}</p>
            {row.number === plan.head ? (
              <span className="faint text-sm">the plan as it stands</span>
            ) : (
              mayWrite && (
                <button
                  type="button"
                  className="text-button"
                  onClick={() => void session.restore(row.number)}
                >
                  Bring revision {row.number} back
                </button>
              )
            )}
          </li>
        ))}
      </ol>
    </SidePanel>
  );
}
