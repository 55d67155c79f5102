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

const STOCK = "/api/studios/{studio}/stock";
const DEVICE = "/api/studios/{studio}/stock/{device_id}";

type Put = (change: StockChange) => unknown;

/** A change of the stock: what is asked, and that its answer is put in its place. */
const changing = <V>(ask: (said: V) => Promise<{ data?: StockChange }>, put: Put) => ({
  mutationFn: (said: V) => dataOf(ask(said)),
  onSuccess: put,
});

/** The studio's stock, and everything that changes it; a change comes back with what it changed. */
export function useStock(studio: string) {
  const queries = useQueryClient();
  const [ports, setPorts] = useState("");
  const params = { path: { studio } };
  const { queryKey } = api.queryOptions("get", STOCK, { params });
  const reload = () => queries.invalidateQueries({ queryKey });
  /** What changed is put in its place at once; what is made of the whole shelf follows. */
  const put: Put = (change) => {
    queries.setQueryData(
      queryKey,
      (stock: Stock | undefined) => stock && withChange(stock, change),
    );
    void queries.invalidateQueries({ queryKey: ["stock-move", studio] });
    return change.is_whole ? void reload() : reload();
  };
  return {
    setPorts,
    stock: api.useQuery("get", STOCK, { params }, { staleTime: 0 }),
    /** The move over other ports than those there are. */
    move: useQuery({
      queryKey: ["stock-move", studio, ports],
      enabled: ports !== "",
      queryFn: async () =>
        (await dataOf(client.GET(STOCK, { params: { ...params, query: { ports } } }))).result.move,
    }),
    ...useDeviceChanges(studio, put),
    ...useStockFiles(studio, put, reload),
  };
}

function useDeviceChanges(studio: string, put: Put) {
  const of = (id: string) => ({ path: { studio, device_id: id } });
  return {
    addQuick: useMutation(
      changing(
        (text: string) =>
          client.POST(`${STOCK}/quick`, { params: { path: { studio } }, body: { text } }),
        put,
      ),
    ),
    change: useMutation(
      changing(
        ({ id, changes }: { id: string; changes: Record<string, unknown> }) =>
          client.PATCH(DEVICE, { params: of(id), body: { changes } }),
        put,
      ),
    ),
    remove: useMutation(changing((id: string) => client.DELETE(DEVICE, { params: of(id) }), put)),
    handOver: useMutation(
      changing(
        ({ id, ...body }: { id: string } & HandOver) =>
          client.POST(`${DEVICE}/hand-over`, { params: of(id), body }),
        put,
      ),
    ),
    takeBack: useMutation(
      changing(
        ({ id, place }: { id: string; place: string }) =>
          client.POST(`${DEVICE}/return`, { params: of(id), body: { place } }),
        put,
      ),
    ),
  };
}

/** What is read from files: inventories, health reports, manifests. */
function useStockFiles(studio: string, put: Put, reload: () => unknown) {
  const params = { path: { studio } };
  const of = (id: string) => ({ path: { studio, device_id: id } });
  const named = (file: File) => ({ file: asContent(file) });
  return {
    preview: useMutation({
      mutationFn: (file: File) =>
        dataOf(client.POST(`${STOCK}/preview`, { params, body: named(file) })),
    }),
    bring: useMutation(
      changing((file: File) => client.POST(`${STOCK}/import`, { params, body: named(file) }), put),
    ),
    report: useMutation({
      mutationFn: ({ id, file }: { id: string; file: File }) =>
        dataOf(client.POST(`${DEVICE}/report`, { params: of(id), body: named(file) })),
      onSuccess: reload,
    }),
    manifest: useMutation(
      changing(
        ({ id, file, material }: { id: string; file: File; material: string }) =>
          client.POST(`${DEVICE}/manifest`, { params: of(id), body: { ...named(file), material } }),
        put,
      ),
    ),
  };
}

export type StockTools = ReturnType<typeof useStock>;
