import { Choice, Quantity, RefusedHere } from "../../plan/fields";
import { ItemFieldset } from "../../plan/ItemFieldset";
import { Figure } from "../../plan/Figure";
import { rateText, ratioText } from "../../kit/format";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { freshId } from "../../plan/patch";
import { Chain } from "./Chain";

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
  const { session, mayWrite } = usePlanTools();
  const { document, evaluation } = useSnapshot();
  const wiring = document.plan.wiring;
  const hops = wiring?.hops ?? [];
  const result = evaluation.wiring;
  const add = () =>
    session.change({
      op: "add",
      path: "plan/wiring/hops",
      value: { id: freshId("hop", hops), name: "New hop", speed: "10GbE", links: 1, serves: "all" },
    });
  return (
    <div className="ask-answer">
      <section aria-label="Hops">
        <h2>Hops, from the seat to the box</h2>
        {hops.map((hop) => {
          const path = `plan/wiring/hops/${hop.id}`;
          return (
            <ItemFieldset key={hop.id} field="WireHop.name" path={path} name={hop.name}>
              <Choice
                bare
                field="WireHop.speed"
                path={`${path}/speed`}
                label={`${hop.name}: speed`}
              />
              <span>×</span>
              <Quantity
                bare
                field="WireHop.links"
                path={`${path}/links`}
                label={`${hop.name}: links together`}
              />
              <span>for</span>
              <Choice
                bare
                field="WireHop.serves"
                path={`${path}/serves`}
                options={SERVES}
                label={`${hop.name}: serves`}
              />
            </ItemFieldset>
          );
        })}
        <RefusedHere path="plan/wiring" />
        {mayWrite && (
          <button type="button" className="text-button mt-2" onClick={add}>
            Add a hop
          </button>
        )}
        <h2 className="mt-5">Network</h2>
        <Choice field="Wiring.mtu" path="plan/wiring/mtu" />
        <Choice field="Wiring.protocol" path="plan/wiring/protocol" options={PROTOCOLS} />
      </section>
      <section aria-label="What each hop carries">
        <h2>What each hop carries, and what is asked of it</h2>
        <p className="faint">Thickness is bandwidth, the filled part is what is asked.</p>
        <Chain hops={result.hops} limiting={result.limiting_hop_id ?? null} />
        <table className="ledger mt-4">
          <thead>
            <tr>
              <th scope="col">Hop</th>
              <th scope="col" className="num">
                Carries
              </th>
              <th scope="col" className="num">
                Asked
              </th>
              <th scope="col" className="num">
                Carries ÷ asked
              </th>
              <th scope="col">By</th>
            </tr>
          </thead>
          <tbody>
            {result.hops.map((hop) => (
              <tr key={hop.id}>
                <td>
                  {hop.name}
                  {hop.id === result.limiting_hop_id && <b className="ml-1"> ◀ limits</b>}
                </td>
                <td className="num">
                  <Figure id={`wiring.${hop.id}`}>{rateText(hop.capacity_bytes_per_s)}</Figure>
                </td>
                <td className="num">{rateText(hop.required_bytes_per_s)}</td>
                <td className="num">
                  {hop.ratio === null || hop.ratio === undefined ? "–" : ratioText(hop.ratio)}
                </td>
                <td className="faint">{hop.because}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </div>
  );
}
