import { useInfiniteQuery } from "@tanstack/react-query";

import { client, dataOf } from "../../api/client";
import { dateText } from "../../kit/format";
import { Button } from "../../kit/Button";

/** What was done to a device, the newest first. */
export function DeviceLog({
  studio,
  id,
  version,
}: {
  studio: string;
  id: string;
  version: number;
}) {
  const log = useInfiniteQuery({
    queryKey: ["device-log", studio, id, version],
    queryFn: ({ pageParam }) =>
      dataOf(
        client.GET("/api/studios/{studio}/stock/{device_id}/log", {
          params: { path: { studio, device_id: id }, query: { after: pageParam } },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (page) => (page.next === null ? undefined : Number(page.next)),
    placeholderData: (before) => before,
  });
  const entries = log.data?.pages.flatMap((page) => page.entries) ?? [];
  if (!entries.length) return null;
  return (
    <>
      <h3 className="mt-5">What was done</h3>
      <ul className="text-sm">
        {entries.map((entry) => (
          <li key={`${entry.at} ${entry.action}`} className="border-b border-base-300 py-1">
            {dateText(entry.at)} · {entry.action}
            {entry.person && <span className="faint"> by {entry.person}</span>}
            <span className="faint block">{entry.detail}</span>
          </li>
        ))}
      </ul>
      {log.hasNextPage && (
        <Button look="text" className="mt-2" onClick={() => void log.fetchNextPage()}>
          Older entries
        </Button>
      )}
    </>
  );
}
