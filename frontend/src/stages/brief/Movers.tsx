import { MoversTable, useWorking } from "../../plan/working";
import { Behind } from "../../kit/Fold";
import { Problem } from "../../kit/Problem";

/** Which three inputs move a figure most; asked for when it is opened, since it takes many evaluations. */
export function Movers({ figureId, of }: { figureId: string; of: string }) {
  return (
    <Behind lazy className="mt-1" title={`What would change ${of} most`}>
      <Table figureId={figureId} />
    </Behind>
  );
}

function Table({ figureId }: { figureId: string }) {
  const working = useWorking(figureId);
  if (working.isError) return <Problem of={working.error} />;
  if (!working.data) return <p className="faint">Working it out …</p>;
  return <MoversTable working={working.data} />;
}
