import type { Safeguard } from "../../api/client";
import { Heads, Table } from "../../kit/Table";
import { waitText } from "./words";

/** Boxes, supplies, switches and cables: until people work again, how, and who stands still. */
export function Failures({ failures }: { failures: Safeguard["failures"] }) {
  const long = failures.toSorted((a, b) => b.hours - a.hours);
  return (
    <>
      <p className="mt-2">
        Boxes fail too. Disks that any computer reads wait for nobody; behind a controller card they
        wait for its like. Spares are said with the boxes, switches and wires.
      </p>
      {failures.length === 0 && <p className="faint">No box, switch or cable is named yet.</p>}
      {failures.length > 0 && (
        <Table className="mt-2" aria-label="When a box or a wire dies">
          <Heads of={["What dies", "#People wait", "How it goes on", "Stands still"]} />
          <tbody>
            {long.map((each) => (
              <tr key={`${each.part}-${each.id}`}>
                <td>{each.name}</td>
                <td className="num">{waitText(each.hours)}</td>
                <td>{each.how}</td>
                <td>{each.stops.join(", ") || "nobody"}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      <p className="faint mt-2 text-sm">
        Never open a power supply. A box with two is off only when both cords are out; an outlet of
        a battery unit stays live when the unit is unplugged.
      </p>
    </>
  );
}
