import type { LineOut } from "../../api/client";
import { Button } from "../../kit/Button";
import { Heads, Table } from "../../kit/Table";

type Part = LineOut["line"]["understood"][number];
type Assumed = NonNullable<Part["assumed"]>[number];

/** Each part of the line with what it is taken as; what nobody said is changed by a press. */
export function Understood({
  parts,
  onSay,
}: {
  parts: Part[];
  onSay: (part: Part, left: Assumed) => void;
}) {
  if (!parts.some((part) => part.words)) return null;
  return (
    <Table className="stacked mt-3">
      <Heads of={["You said", "It is taken as", "#Assumed: change it here"]} />
      <tbody>
        {parts.map((part) => (
          <tr key={`${part.start} ${part.meaning}`}>
            <td className="font-semibold">
              {part.words || <span className="faint">nothing</span>}
            </td>
            <td className="whole">{part.meaning}</td>
            <td className="whole text-right">
              {part.assumed?.map((left) => (
                <Button
                  key={left.said}
                  look="figure"
                  className="mr-4 text-sm font-normal md:mr-0 md:ml-4"
                  onClick={() => onSay(part, left)}
                >
                  {left.said}
                </Button>
              ))}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
