import type { Evaluation } from "../../api/client";
import { Behind } from "../../kit/Fold";
import { rateText, ratioText } from "../../kit/format";
import { Heads, Table } from "../../kit/Table";
import { Figure } from "../../plan/Figure";

/** What each hop carries, what is asked of it, and by whom. */
export function HopTable({ wiring }: { wiring: Evaluation["wiring"] }) {
  return (
    <Behind className="mt-5" title={`All ${wiring.hops.length} hops, with what is asked of each`}>
      <Table aria-label="Hops">
        <Heads of={["Hop", "#Carries", "#Asked", "#Carries ÷ asked", "By"]} />
        <tbody>
          {wiring.hops.map((hop) => (
            <tr key={hop.id}>
              <td>
                {hop.name}
                {hop.id === wiring.limiting_hop_id && <b className="ml-1"> ◀ limits</b>}
              </td>
              <td className="num">
                <Figure id={`wiring.${hop.id}`}>{rateText(hop.capacity_bytes_per_s)}</Figure>
                {hop.one_client_low_bytes_per_s && (
                  <span className="faint block text-[0.86rem]">
                    one client from {rateText(hop.one_client_low_bytes_per_s)}
                  </span>
                )}
              </td>
              <td className="num">{rateText(hop.required_bytes_per_s)}</td>
              <td className="num">
                {hop.ratio === null || hop.ratio === undefined ? "–" : ratioText(hop.ratio)}
              </td>
              <td className="faint">{hop.because}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </Behind>
  );
}
