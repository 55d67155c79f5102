import type { SideBySide } from "../../api/client";
import { Button } from "../../kit/Button";
import { moneyText } from "../../kit/format";
import { Table, TableHead } from "../../kit/Table";
import { Beams } from "./Beams";

type Row = SideBySide["rows"][number];
type Cell = Row["cells"][number];

/** A column a plan on one scale: what differs is written out, what is the same is quiet. */
export function CompareTable({
  told,
  drop,
  pin,
}: {
  told: SideBySide;
  drop: (at: number) => void;
  pin: (at: number) => void;
}) {
  return (
    <div className="mt-3 overflow-x-auto">
      <Table aria-label="Plans side by side" isEven className="min-w-[46rem]">
        <TableHead>
          <tr>
            <th scope="col" className="w-36">
              Measure
            </th>
            {told.columns.map((column, n) => (
              <ColumnHead
                key={n}
                column={column}
                isBaseline={n === 0}
                pin={() => pin(n)}
                drop={told.columns.length > 2 ? () => drop(n) : undefined}
              />
            ))}
          </tr>
        </TableHead>
        <tbody>
          <tr>
            <th scope="row">The scales</th>
            {told.columns.map((column, n) => (
              <td key={n}>
                <Beams measured={column.measured} />
              </td>
            ))}
          </tr>
          {told.rows.map((row) => (
            <tr key={row.id} className={row.differs ? "" : "faint"}>
              <th scope="row" className="font-normal">
                {row.name}
                {row.better && (
                  <span className="faint block text-xs">
                    {row.written === "day" ? "later" : row.better} is better
                  </span>
                )}
              </th>
              {row.cells.map((cell, n) => (
                <td key={n} className="align-top whitespace-normal">
                  <CellText row={row} cell={cell} currency={told.currency} isBaseline={n === 0} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </Table>
    </div>
  );
}

/** One plan: its name, how far it is from the baseline in a word, and what may be done with it here. */
function ColumnHead({
  column,
  isBaseline,
  pin,
  drop,
}: {
  column: SideBySide["columns"][number];
  isBaseline: boolean;
  pin: () => void;
  drop: (() => void) | undefined;
}) {
  return (
    <th scope="col" className="align-top whitespace-normal">
      <span className="block text-[1.02rem]">{column.name}</span>
      <span className="faint block text-sm font-normal">
        {isBaseline ? "the baseline" : column.apart || "against the baseline"}
      </span>
      <span className="flex gap-3 font-normal">
        {!isBaseline && (
          <Button look="text" onClick={pin}>
            Pin<span className="sr-only"> {column.name} as the baseline</span>
          </Button>
        )}
        {drop && (
          <Button look="text" onClick={drop}>
            Leave out<span className="sr-only"> {column.name}</span>
          </Button>
        )}
      </span>
    </th>
  );
}

function CellText({
  row,
  cell,
  currency,
  isBaseline,
}: {
  row: Row;
  cell: Cell;
  currency: string;
  isBaseline: boolean;
}) {
  const text =
    row.written === "money" && cell.value !== null
      ? moneyText(Math.round(cell.value ?? 0), currency)
      : cell.text;
  return (
    <>
      <span className="flex items-baseline justify-between gap-2">
        <span className={cell.is_best ? "font-semibold" : ""}>
          {text}
          {cell.is_best && <span aria-hidden="true"> ◂</span>}
          {cell.is_best && <span className="sr-only"> (best)</span>}
        </span>
        {!isBaseline && cell.against && <span className="faint text-sm">{cell.against}</span>}
      </span>
      {cell.share > 0 && (
        <svg
          viewBox="0 0 100 5"
          preserveAspectRatio="none"
          className="mt-0.5 block h-[5px] w-full"
          aria-hidden="true"
        >
          <rect
            width={cell.share * 100}
            height="5"
            className={row.differs ? "fill-primary" : "teal-soft"}
          />
        </svg>
      )}
    </>
  );
}
