import { useState } from "react";

import { MoversTable, useWorking } from "../../plan/working";

/** Which three inputs move a figure most; asked for when it is opened, since it takes many evaluations. */
export function Movers({ figureId, of }: { figureId: string; of: string }) {
  const [open, setOpen] = useState(false);
  return (
    <details className="mt-1" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="text-button inline-block cursor-pointer">
        What would change {of} most
      </summary>
      {open && <Table figureId={figureId} />}
    </details>
  );
}

function Table({ figureId }: { figureId: string }) {
  const working = useWorking(figureId);
  if (working.isError) return <p className="problem">{working.error.message}</p>;
  if (!working.data) return <p className="faint">Working it out …</p>;
  return <MoversTable working={working.data} />;
}
