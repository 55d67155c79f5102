import { useState } from "react";

import { FileDrop } from "../../kit/FileDrop";
import { counted, sizeText } from "../../kit/format";
import type { StockTools } from "./useStock";
import { Problem } from "../../kit/Problem";
import { Button } from "../../kit/Button";

/** A CSV is shown before it is taken in: what it would add, or every fault by line. */
export function BringCsv({ tools }: { tools: StockTools }) {
  const [file, setFile] = useState<File | null>(null);
  const { preview, bring } = tools;
  const look = (next: File) => {
    setFile(next);
    bring.reset();
    preview.mutate(next);
  };
  const done = () => {
    setFile(null);
    preview.reset();
  };
  const seen = file ? preview.data : undefined;
  return (
    <>
      <h2 className="mt-5 mb-2">Bring a CSV</h2>
      <FileDrop accept=".csv,text/csv" onFile={look}>
        Drop an inventory here, or choose one. The file that is downloaded below shows every column;
        only size is needed:
      </FileDrop>
      {preview.isPending && <p className="faint">Reading …</p>}
      <Problem of={preview.error} />
      {seen && seen.fault_count > 0 && (
        <Problem
          className="mt-2"
          of={`${counted(seen.fault_count, "row")} cannot be taken in, so nothing was.`}
        >
          {seen.faults.map((fault) => (
            <span key={`${fault.line}-${fault.column}`} className="block text-base-content">
              Line {fault.line}: {fault.sentence}
            </span>
          ))}
        </Problem>
      )}
      {seen && seen.fault_count === 0 && file && (
        <div className="mt-2" role="status">
          <p>
            {seen.count} devices, {sizeText(seen.raw_bytes)} in all
            {seen.first[0]
              ? `: ${seen.first
                  .slice(0, 3)
                  .map((d) => d.label)
                  .join(", ")} …`
              : ""}
          </p>
          <p className="mt-1 flex gap-3">
            <Button onClick={() => bring.mutate(file, { onSuccess: done })}>
              Add these {seen.count}
            </Button>
            <Button onClick={done}>Leave it</Button>
          </p>
        </div>
      )}
      <Problem of={bring.error} />
    </>
  );
}
