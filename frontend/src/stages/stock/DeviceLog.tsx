import { useQuery } from "@tanstack/react-query";

import { client, dataOf } from "../../api/client";
import { dateText } from "../../kit/format";

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
  const log = useQuery({
    queryKey: ["device-log", studio, id, version],
    queryFn: () =>
      dataOf(
        client.GET("/api/studios/{studio}/stock/{device_id}/log", {
          params: { path: { studio, device_id: id } },
        }),
      ),
    placeholderData: (before) => before,
  });
  if (!log.data?.length) return null;
  return (
    <>
      <h3 className="mt-5">What was done</h3>
      <ul className="text-sm">
        {log.data.map((entry) => (
          <li key={`${entry.at} ${entry.action}`} className="border-b border-base-300 py-1">
            {dateText(entry.at)} · {entry.action}
            {entry.person && <span className="faint"> by {entry.person}</span>}
            <span className="faint block">{entry.detail}</span>
          </li>
        ))}
      </ul>
    </>
  );
}
