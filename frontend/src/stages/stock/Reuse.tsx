import type { Stock } from "../../api/client";
import { sizeText } from "../../kit/format";
import { Table } from "../../kit/Table";

const MARKS = { yes: "●", "with care": "◐", no: "✕" } as const;

/** Which drives may go into a new pool and which must not, with the reason. */
export function Reuse({ groups }: { groups: Stock["result"]["reuse"] }) {
  if (!groups.length) return null;
  return (
    <>
      <h2 className="mt-5">For a new pool</h2>
      <Table>
        <tbody>
          {groups.map((group) => (
            <tr key={`${group.reuse} ${group.because}`}>
              <td className="whitespace-nowrap">
                <span aria-hidden="true">{MARKS[group.reuse]}</span> {group.reuse}
              </td>
              <td>{group.because}</td>
              <td className="num whitespace-nowrap">
                {group.count} × <span className="faint">{sizeText(group.raw_bytes)}</span>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}
