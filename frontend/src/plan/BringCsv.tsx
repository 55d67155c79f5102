import { useState, type ReactNode } from "react";

import type { Operation } from "../api/client";
import { Button } from "../kit/Button";
import { FileDrop } from "../kit/FileDrop";
import { Problem } from "../kit/Problem";
import { usePlanTools } from "./context";
import { useTaken } from "./useTaken";

/** A CSV is looked at before it is taken in: `look` asks what it would change, `said` tells it. */
export function BringCsv<Read extends { patch: readonly Operation[] }>({
  look,
  said,
  children,
}: {
  look: (text: string) => Promise<Read>;
  said: (read: Read) => ReactNode;
  children: ReactNode;
}) {
  const { session } = usePlanTools();
  const { problem, take } = useTaken();
  const [read, setRead] = useState<Read | null>(null);
  const lookAt = (file: File) =>
    take(async () => {
      setRead(null);
      setRead(await look(await file.text()));
      return [];
    });
  const takeIn = ({ patch }: Read) => {
    if (patch.length) session.change(...patch);
    setRead(null);
  };
  return (
    <>
      <Problem of={problem} className="whitespace-pre-line" />
      <div className="mt-3 max-w-xl">
        <FileDrop accept=".csv,text/csv" onFile={lookAt}>
          {children}
        </FileDrop>
      </div>
      {read && (
        <p className="mt-2 flex items-center gap-3" role="status">
          {said(read)}
          <Button onClick={() => takeIn(read)}>Take them in</Button>
          <Button onClick={() => setRead(null)}>Leave it</Button>
        </p>
      )}
    </>
  );
}
