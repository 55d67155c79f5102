import { useDeferredValue, useMemo, useState } from "react";
import { useParams } from "react-router";

import type { Session } from "../../api/client";
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
import { useStock } from "./useStock";
import { Where } from "./Where";
import { Problem } from "../../kit/Problem";
import { Table } from "../../kit/Table";
import { LINK } from "../../kit/Button";
import { Input } from "../../kit/Input";

/** What lies on the shelf: enter it, find it, see what exists only once and what to rescue first. */
export function StockPage({ session }: { session: Session }) {
  const { studio = "" } = useParams();
  const tools = useStock(studio);
  const [words, setWords] = useState("");
  const [open, setOpen] = useState<string | null>(null);
  const wanted = useDeferredValue(words);
  const data = tools.stock.data;
  const devices = useMemo(() => (data ? found(data.devices, wanted) : []), [data, wanted]);
  const byId = useMemo(() => new Map(data?.devices.map((d) => [d.id, d])), [data]);
  const materials = useMemo(
    () => (data ? foundMaterials(data.result.materials, byId, wanted) : []),
    [data, byId, wanted],
  );
  const boxes = useMemo(
    () => (data?.devices ?? []).filter((d) => d.kind === "box").map((d) => d.label),
    [data],
  );
  const results = useMemo(() => new Map(data?.result.items.map((r) => [r.id, r])), [data]);
  const mayWrite = data !== undefined && data.role !== "viewer";
  const chosen = data?.devices.find((d) => d.id === open);
  return (
    <div className="grid h-dvh grid-rows-[auto_minmax(0,1fr)]">
      <StudioHeader session={session} studio={studio} />
      <div className="relative min-h-0">
        <main className="h-full overflow-y-auto">
          {tools.stock.isPending && <p className="faint p-8">Looking at the shelf …</p>}
          {tools.stock.isError && !data && <Problem of={tools.stock.error} className="p-8" />}
          {data && (
            <div className="ask-answer">
              <section aria-label="Take stock">
                <h1 className="text-2xl">Stock</h1>
                {mayWrite && <QuickEntry tools={tools} />}
                <h2 className="mt-5">What there is</h2>
                <Table>
                  <tbody>
                    {(
                      [
                        ["Devices", String(data.devices.length)],
                        ["Raw", sizeText(data.result.raw_bytes)],
                        ["Used", sizeText(data.result.used_bytes)],
                        ["Unique, to be kept and moved", sizeText(data.result.unique_bytes)],
                        ["Exists only once", sizeText(data.result.sole_bytes)],
                        ["Past the house rule’s age", String(data.result.past_age_count)],
                      ] as const
                    ).map(([name, value]) => (
                      <tr key={name}>
                        <td>{name}</td>
                        <td className="num font-semibold">{value}</td>
                      </tr>
                    ))}
                  </tbody>
                </Table>
                <Rescue steps={data.result.rescue} onOpen={setOpen} />
                <Moving
                  move={tools.move.data ?? data.result.move}
                  problem={tools.move.error?.message ?? ""}
                  onPorts={tools.setPorts}
                />
                <Reuse groups={data.result.reuse} />
                {mayWrite && data.devices.length > 0 && (
                  <JudgeToday studio={studio} devices={data.devices} />
                )}
                {mayWrite && <BringCsv tools={tools} />}
                <p className="mt-3">
                  <a className={LINK} href={`/api/studios/${studio}/stock/csv`}>
                    Download the stock as CSV
                  </a>
                </p>
              </section>
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
                {wanted.trim() && <Where materials={materials} devices={byId} onOpen={setOpen} />}
                {devices.length > 0 && <ShelfDrawing devices={devices} results={results} />}
                {data.devices.length === 0 && (
                  <p className="my-6">
                    Nothing here yet: type what lies on the shelf, or drop a CSV.
                  </p>
                )}
                {data.devices.length > 0 && devices.length === 0 && (
                  <p className="my-6" role="status">
                    Nothing on the shelf answers to “{wanted}”.
                  </p>
                )}
                <DeviceList key={wanted} devices={devices} results={results} onOpen={setOpen} />
              </section>
            </div>
          )}
        </main>
        {chosen && data && (
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
