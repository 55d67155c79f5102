import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { client, dataOf, sendFile, type Preview, type Stock } from "../../api/client";

/** The studio's stock, and everything that changes it; each change comes back with the whole answer. */
export function useStock(studio: string) {
  const queries = useQueryClient();
  const key = ["stock", studio];
  const params = { path: { studio } };
  const put = (stock: Stock) => queries.setQueryData(key, stock);
  const root = `/api/studios/${studio}/stock`;
  return {
    stock: useQuery({
      queryKey: key,
      queryFn: () => dataOf(client.GET("/api/studios/{studio}/stock", { params })),
      staleTime: 0,
    }),
    addQuick: useMutation({
      mutationFn: (text: string) =>
        dataOf(client.POST("/api/studios/{studio}/stock/quick", { params, body: { text } })),
      onSuccess: put,
    }),
    change: useMutation({
      mutationFn: ({ id, changes }: { id: string; changes: Record<string, unknown> }) =>
        dataOf(
          client.PATCH("/api/studios/{studio}/stock/{device_id}", {
            params: { path: { studio, device_id: id } },
            body: { changes },
          }),
        ),
      onSuccess: put,
    }),
    remove: useMutation({
      mutationFn: (id: string) =>
        dataOf(
          client.DELETE("/api/studios/{studio}/stock/{device_id}", {
            params: { path: { studio, device_id: id } },
          }),
        ),
      onSuccess: put,
    }),
    preview: useMutation({
      mutationFn: (file: File) => sendFile<Preview>(`${root}/preview`, file),
    }),
    bring: useMutation({
      mutationFn: (file: File) => sendFile<Stock>(`${root}/import`, file),
      onSuccess: put,
    }),
    report: useMutation({
      mutationFn: ({ id, file }: { id: string; file: File }) =>
        sendFile<{ message: string }>(`${root}/${id}/report`, file),
      onSuccess: () => queries.invalidateQueries({ queryKey: key }),
    }),
  };
}

export type StockTools = ReturnType<typeof useStock>;
