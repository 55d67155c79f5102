import { useInfiniteQuery } from "@tanstack/react-query";

import { client, dataOf } from "../api/client";
import { agoText } from "../kit/format";
import { Problem } from "../kit/Problem";
import { Button } from "../kit/Button";

/** Every saved state, newest first and a page at a time; any but the newest can be brought back. */
export function RevisionList(props: {
  studio: string;
  planId: string;
  head: number;
  onRestore?: ((revision: number) => void) | undefined;
}) {
  const { studio, planId, head, onRestore } = props;
  const rows = useInfiniteQuery({
    queryKey: ["revisions", planId, head],
    queryFn: ({ pageParam }) =>
      dataOf(
        client.GET("/api/studios/{studio}/plans/{plan_id}/revisions", {
          params: { path: { studio, plan_id: planId }, query: { after: pageParam } },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (page) => (page.next === null ? undefined : Number(page.next)),
    placeholderData: (before) => before,
  });
  const now = rows.dataUpdatedAt;
  return (
    <>
      <Problem of={rows.error} />
      <ol className="space-y-2">
        {rows.data?.pages
          .flatMap((page) => page.revisions)
          .map((row) => (
            <li key={row.number} className="border-b border-base-300 pb-2">
              <div className="flex items-baseline justify-between gap-3">
                <b className="font-semibold">Revision {row.number}</b>
                <span className="faint text-sm">
                  {row.author ?? "somebody who left"}, {agoText(row.created_at, now)}
                </span>
              </div>
              <p>{row.summary}</p>
              {row.number === head ? (
                <span className="faint text-sm">the plan as it stands</span>
              ) : (
                onRestore && (
                  <Button look="text" onClick={() => onRestore(row.number)}>
                    Bring revision {row.number} back
                  </Button>
                )
              )}
            </li>
          ))}
      </ol>
      {rows.hasNextPage && (
        <Button look="text" className="mt-3" onClick={() => void rows.fetchNextPage()}>
          Older revisions
        </Button>
      )}
    </>
  );
}
