import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { useState } from "react";

import {
  api,
  asContent,
  client,
  dataOf,
  type HandOver,
  type Stock,
  type StockChange,
} from "../../api/client";
import { withChange } from "./shelf";

/** The studio's stock, and everything that changes it; a change comes back with what it changed. */
export function useStock(studio: string) {
  const queries = useQueryClient();
  const [ports, setPorts] = useState("");
  const params = { path: { studio } };
  const key = api.queryOptions("get", "/api/studios/{studio}/stock", { params }).queryKey;
  const device = (id: string) => ({ path: { studio, device_id: id } });
  /** What changed is put in its place at once; what is made of the whole shelf follows. */
  const put = (change: StockChange) => {
    queries.setQueryData(key, (stock: Stock | undefined) => stock && withChange(stock, change));
    void queries.invalidateQueries({ queryKey: ["stock-move", studio] });
    return change.is_whole
      ? void queries.invalidateQueries({ queryKey: key })
      : queries.invalidateQueries({ queryKey: key });
  };
  return {
    setPorts,
    stock: api.useQuery("get", "/api/studios/{studio}/stock", { params }, { staleTime: 0 }),
    /** The move over other ports than those there are. */
    move: useQuery({
      queryKey: ["stock-move", studio, ports],
      enabled: ports !== "",
      queryFn: async () => {
        const query = { params: { ...params, query: { ports } } };
        return (await dataOf(client.GET("/api/studios/{studio}/stock", query))).result.move;
      },
      retry: false,
    }),
    handOver: useMutation({
      mutationFn: ({ id, ...body }: { id: string } & HandOver) =>
        dataOf(
          client.POST("/api/studios/{studio}/stock/{device_id}/hand-over", {
            params: device(id),
            body,
          }),
        ),
      onSuccess: put,
    }),
    takeBack: useMutation({
      mutationFn: ({ id, place }: { id: string; place: string }) =>
        dataOf(
          client.POST("/api/studios/{studio}/stock/{device_id}/return", {
            params: device(id),
            body: { place },
          }),
        ),
      onSuccess: put,
    }),
    manifest: useMutation({
      mutationFn: ({ id, file, material }: { id: string; file: File; material: string }) =>
        dataOf(
          client.POST("/api/studios/{studio}/stock/{device_id}/manifest", {
            params: device(id),
            body: { file: asContent(file), material },
          }),
        ),
      onSuccess: put,
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
            params: device(id),
            body: { changes },
          }),
        ),
      onSuccess: put,
    }),
    remove: useMutation({
      mutationFn: (id: string) =>
        dataOf(
          client.DELETE("/api/studios/{studio}/stock/{device_id}", {
            params: device(id),
          }),
        ),
      onSuccess: put,
    }),
    preview: useMutation({
      mutationFn: (file: File) =>
        dataOf(
          client.POST("/api/studios/{studio}/stock/preview", {
            params,
            body: { file: asContent(file) },
          }),
        ),
    }),
    bring: useMutation({
      mutationFn: (file: File) =>
        dataOf(
          client.POST("/api/studios/{studio}/stock/import", {
            params,
            body: { file: asContent(file) },
          }),
        ),
      onSuccess: put,
    }),
    report: useMutation({
      mutationFn: ({ id, file }: { id: string; file: File }) =>
        dataOf(
          client.POST("/api/studios/{studio}/stock/{device_id}/report", {
            params: device(id),
            body: { file: asContent(file) },
          }),
        ),
      onSuccess: () => queries.invalidateQueries({ queryKey: key }),
    }),
  };
}

export type StockTools = ReturnType<typeof useStock>;
