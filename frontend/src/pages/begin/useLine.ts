import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { client, dataOf, type LineOut } from "../../api/client";
import { useLate } from "../../kit/useLate";

/** What the server takes a line as; while an answer is on its way the one before is shown. */
export function useLine(studio: string, line: string) {
  const asked = useLate(line);
  const answer = useQuery<LineOut>({
    queryKey: ["understand", studio, asked],
    queryFn: () =>
      dataOf(
        client.POST("/api/studios/{studio}/understand", {
          params: { path: { studio } },
          body: { line: asked },
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
  return { ...answer, isOf: asked === line && !answer.isPlaceholderData };
}
