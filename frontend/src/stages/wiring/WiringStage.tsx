import { fieldsIn } from "../../plan/AllFields";
import { Choice, RefusedHere } from "../../plan/fields";
import { ItemFieldset } from "../../plan/ItemFieldset";
import { Figure } from "../../plan/Figure";
import { rateText, ratioText } from "../../kit/format";
import type { Evaluation } from "../../api/client";
import { useSnapshot } from "../../plan/context";
import { Chain } from "./Chain";
import { AddItem } from "../../plan/AddItem";
import { Heads, Table } from "../../kit/Table";

const SERVES: [string, string][] = [
  ["seat", "one seat"],
  ["all", "all seats"],
];
const PROTOCOLS: [string, string][] = [
  ["smb", "SMB"],
  ["nfs", "NFS"],
];

/** The way from the seats to the pool, and the one hop that limits. */
export function WiringStage() {
  const { document, evaluation } = useSnapshot();
  const wiring = document.plan.wiring;
  const hops = wiring?.hops ?? [];
  const result = evaluation.wiring;
  return (
    <div className="ask-answer">
      <section aria-label="Hops">
        <h2>Hops, from the seat to the box</h2>
        {hops.map((hop) => {
          const path = `plan/wiring/hops/${hop.id}`;
          const its = fieldsIn("WireHop", path, hop.name);
          return (
            <ItemFieldset key={hop.id} field="WireHop.name" path={path} name={hop.name}>
              {its("speed", "speed")}
              <span>×</span>
              {its("links", "links together")}
              <span>for</span>
              {its("serves", "serves", SERVES)}
            </ItemFieldset>
          );
        })}
        <RefusedHere path="plan/wiring" />
        <AddItem className="mt-2" path="plan/wiring/hops">
          Add a hop
        </AddItem>
        <h2 className="mt-5">Network</h2>
        <Choice field="Wiring.mtu" path="plan/wiring/mtu" />
        <Choice field="Wiring.protocol" path="plan/wiring/protocol" options={PROTOCOLS} />
      </section>
      <section aria-label="What each hop carries">
        <h2>What each hop carries, and what is asked of it</h2>
        <p className="faint">Thickness is bandwidth, the filled part is what is asked.</p>
        <Chain hops={result.hops} limiting={result.limiting_hop_id ?? null} />
        <HopTable wiring={result} />
      </section>
    </div>
  );
}

/** What each hop carries, what is asked of it, and by whom. */
function HopTable({ wiring }: { wiring: Evaluation["wiring"] }) {
  return (
    <Table className="mt-4">
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
  );
}
