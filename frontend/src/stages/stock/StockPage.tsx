import { useDeferredValue, useMemo, useState } from "react";
import { useLocation, useParams } from "react-router";

import type { DeviceResult, Session, Stock } from "../../api/client";
import { sizeText } from "../../kit/format";
import { StudioHeader } from "../../studio/StudioHeader";
import { BringCsv } from "./BringCsv";
import { DeviceList } from "./DeviceList";
import { DevicePanel } from "./DevicePanel";
import { JudgeToday } from "./JudgeToday";
import { Moving } from "./Moving";
import { QuickEntry } from "./QuickEntry";
import { Rescue } from "./Rescue";
import { Reuse } from "./Reuse";
import { found, foundMaterials } from "./shelf";
import { ShelfDrawing } from "./ShelfDrawing";
import { useStock, type StockTools } from "./useStock";
import { Where } from "./Where";
import { Waiting } from "../../kit/Notice";
import { Problem } from "../../kit/Problem";
import { LINK } from "../../kit/Button";
import { Table } from "../../kit/Table";
import { Input } from "../../kit/Input";

/** What lies on the shelf: enter it, find it, see what exists only once and what to rescue first. */
export function StockPage({ session }: { session: Session }) {
  const { studio = "" } = useParams();
  const tools = useStock(studio);
  const { state } = useLocation() as { state: { device?: string } | null };
  const [open, setOpen] = useState<string | null>(state?.device ?? null);
  const data = tools.stock.data;
  const mayWrite = data !== undefined && data.role !== "viewer";
  const chosen = data?.devices.find((d) => d.id === open);
  const boxes = useMemo(
    () => (data?.devices ?? []).filter((d) => d.kind === "box").map((d) => d.label),
    [data],
  );
  const results = useMemo(() => new Map(data?.result.items.map((r) => [r.id, r])), [data]);
  return (
    <div className="grid h-dvh grid-rows-[auto_minmax(0,1fr)]">
      <StudioHeader session={session} studio={studio} />
      <div className="relative min-h-0">
        <main className="h-full overflow-y-auto">
          {tools.stock.isPending && <Waiting className="p-8">Looking at the shelf …</Waiting>}
          {!data && <Problem of={tools.stock.error} className="p-8" />}
          {data && (
            <div className="ask-answer">
              <TakeStock
                studio={studio}
                stock={data}
                tools={tools}
                mayWrite={mayWrite}
                onOpen={setOpen}
              />
              <Shelf stock={data} results={results} onOpen={setOpen} />
            </div>
          )}
        </main>
        {chosen && (
          <DevicePanel
            key={chosen.id}
            studio={studio}
            device={chosen}
            boxes={boxes}
            result={results.get(chosen.id)}
            tools={tools}
            mayWrite={mayWrite}
            onClose={() => setOpen(null)}
          />
        )}
      </div>
    </div>
  );
}

/** Entering what there is, and what follows from all of it. */
function TakeStock({
  studio,
  stock,
  tools,
  mayWrite,
  onOpen,
}: {
  studio: string;
  stock: Stock;
  tools: StockTools;
  mayWrite: boolean;
  onOpen: (id: string) => void;
}) {
  const { devices, result } = stock;
  return (
    <section aria-label="Take stock">
      <h1 className="text-2xl">Stock</h1>
      {mayWrite && <QuickEntry tools={tools} />}
      <h2 className="mt-5">What there is</h2>
      <Sums stock={stock} />
      <Rescue steps={result.rescue} onOpen={onOpen} />
      <Moving
        move={tools.move.data ?? result.move}
        problem={tools.move.error?.message ?? ""}
        onPorts={tools.setPorts}
      />
      <Reuse groups={result.reuse} />
      {mayWrite && devices.length > 0 && <JudgeToday studio={studio} devices={devices} />}
      {mayWrite && <BringCsv tools={tools} />}
      <p className="mt-3">
        <a className={LINK} href={`/api/studios/${studio}/stock/csv`}>
          Download the stock as CSV
        </a>
      </p>
    </section>
  );
}

function Sums({ stock: { devices, result } }: { stock: Stock }) {
  const sums = [
    ["Devices", String(devices.length)],
    ["Raw", sizeText(result.raw_bytes)],
    ["Used", sizeText(result.used_bytes)],
    ["Unique, to be kept and moved", sizeText(result.unique_bytes)],
    ["Exists only once", sizeText(result.sole_bytes)],
    ["Past the house rule’s age", String(result.past_age_count)],
  ] as const;
  return (
    <Table>
      <tbody>
        {sums.map(([name, value]) => (
          <tr key={name}>
            <td>{name}</td>
            <td className="num font-semibold">{value}</td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

/** The devices, drawn and listed, and which of them something is on. */
function Shelf({
  stock,
  results,
  onOpen,
}: {
  stock: Stock;
  results: Map<string, DeviceResult>;
  onOpen: (id: string) => void;
}) {
  const [words, setWords] = useState("");
  const wanted = useDeferredValue(words);
  const devices = useMemo(() => found(stock.devices, wanted), [stock, wanted]);
  const byId = useMemo(() => new Map(stock.devices.map((d) => [d.id, d])), [stock]);
  const materials = useMemo(
    () => foundMaterials(stock.result.materials, byId, wanted),
    [stock, byId, wanted],
  );
  return (
    <section aria-label="The shelf">
      <label className="flex items-center gap-3">
        <span className="font-semibold">Which drive is it on?</span>
        <Input
          className="grow"
          type="search"
          placeholder="project, shoot, label, box, place, holder or serial"
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
      </label>
      {wanted.trim() && <Where materials={materials} devices={byId} onOpen={onOpen} />}
      {devices.length > 0 && <ShelfDrawing devices={devices} results={results} />}
      {stock.devices.length === 0 && (
        <p className="my-6">Nothing here yet: type what lies on the shelf, or drop a CSV.</p>
      )}
      {stock.devices.length > 0 && devices.length === 0 && (
        <p className="my-6" role="status">
          Nothing on the shelf answers to “{wanted}”.
        </p>
      )}
      <DeviceList key={wanted} devices={devices} results={results} onOpen={onOpen} />
    </section>
  );
}
