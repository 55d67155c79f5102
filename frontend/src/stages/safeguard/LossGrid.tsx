import type { MaterialKept } from "../../api/client";
import { Button } from "../../kit/Button";
import { counted, sizeText } from "../../kit/format";
import { Heads, Table } from "../../kit/Table";
import { HEADS, shortWait, waitText, type Cell } from "./words";

/** What is left of one material after one loss, or after that and a second one. */
export type Left = Pick<Cell, "loss" | "survivors" | "recovery_hours"> & { is_late: boolean };

/** A place in the grid. */
export interface Spot {
  material: string;
  loss: Cell["loss"];
}

const MOST_BLOCKS = 4;

/** Material against losses: a block for each copy that is left, and how long until people work again. */
export function LossGrid({
  materials,
  after,
  chosen,
  choose,
}: {
  materials: readonly MaterialKept[];
  after: (material: MaterialKept, cell: Cell) => Left;
  chosen: Spot | null;
  choose: (spot: Spot) => void;
}) {
  const losses = materials[0]?.cells ?? [];
  return (
    <Table className="loss-grid" aria-label="Material against losses">
      <colgroup>
        <col className="w-[7.4rem]" />
      </colgroup>
      <Heads of={["-Material", ...losses.map(({ loss }) => HEADS[loss])]} />
      <tbody>
        {materials.map((material) => (
          <tr key={material.id}>
            <th scope="row">
              {material.name}
              <span className="faint block text-[0.78rem] font-normal">
                {sizeText(material.bytes)}, {material.worth}
              </span>
            </th>
            {material.cells.map((cell) => (
              <td key={cell.loss}>
                <OneCell
                  name={material.name}
                  left={after(material, cell)}
                  pressed={chosen?.material === material.id && chosen.loss === cell.loss}
                  onClick={() => choose({ material: material.id, loss: cell.loss })}
                />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

function OneCell({
  name,
  left,
  pressed,
  onClick,
}: {
  name: string;
  left: Left;
  pressed: boolean;
  onClick: () => void;
}) {
  const wait = waitText(left.recovery_hours);
  const said = left.survivors
    ? `${counted(left.survivors, "copy is", "copies are")} left, ${wait === "–" ? "nobody waits" : `people wait ${wait}`}`
    : "nothing is left";
  return (
    <Button look="drawn" className="loss-cell" aria-pressed={pressed} onClick={onClick}>
      <span className="sr-only">
        {name}, {left.loss}: {said}
        {left.is_late && left.survivors > 0 && ", longer than is tolerated"}
      </span>
      {left.survivors === 0 ? (
        <span className="loss-lost" aria-hidden="true">
          <b>lost</b>
        </span>
      ) : (
        <span className="flex justify-center gap-[3px]" aria-hidden="true">
          {Array.from({ length: Math.min(left.survivors, MOST_BLOCKS) }, (_, n) => (
            <span key={n} className={`copy-block ${left.survivors === 1 ? "copy-last" : ""}`} />
          ))}
          {left.survivors > MOST_BLOCKS && <span className="text-[0.7rem]">+</span>}
        </span>
      )}
      {left.survivors > 0 && (
        <span
          className={`block text-[0.74rem] leading-tight ${left.is_late ? "font-bold underline" : "faint"}`}
          aria-hidden="true"
        >
          {shortWait(left.recovery_hours)}
        </span>
      )}
    </Button>
  );
}
