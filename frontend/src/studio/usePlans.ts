import { useEffect } from "react";

import { api } from "../api/client";

/** The studio's plans, the last changed first, a page at a time or, for a choice among them, all. */
export function usePlans(studio: string, all = false) {
  const pages = api.useInfiniteQuery(
    "get",
    "/api/studios/{studio}/plans",
    { params: { path: { studio } } },
    {
      pageParamName: "after",
      initialPageParam: 0,
      getNextPageParam: (page) => (page.next === null ? undefined : Number(page.next)),
      staleTime: 0,
    },
  );
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = pages;
  useEffect(() => {
    if (all && hasNextPage && !isFetchingNextPage) void fetchNextPage();
  }, [all, hasNextPage, isFetchingNextPage, fetchNextPage]);
  return { ...pages, rows: pages.data?.pages.flatMap((page) => page.plans) };
}
