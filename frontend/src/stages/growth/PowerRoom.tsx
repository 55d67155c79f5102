import { Cautions } from "../../kit/Cautions";
import { moneyText, shareText, wholeText as whole } from "../../kit/format";
import { Heads, Table } from "../../kit/Table";
import { Figure } from "../../plan/Figure";
import { useSnapshot } from "../../plan/context";
import type { ReactNode } from "react";

const watts = (value: number) => `${whole(value)} W`;

const HEADS = [
  "Box",
  "#Idle",
  "#At work",
  "#Spin-up",
  "#Its supply",
  "#Carried",
  "#From the wall",
  "#Noise",
  "#Mass",
] as const;

/** What supplies, circuit, room and batteries have to bear, with the cautions of that work. */
export function PowerRoom() {
  const { power } = useSnapshot().evaluation;
  return (
    <>
      <Boxes />
      <Cautions of={["mains", "rack", "opening"]} />
      <Bears />
      <Cautions of={["air", "battery"]} />
      <StandStill />
      {power.assumed.length > 0 && (
        <p className="faint mt-2 text-sm">Not said, so assumed: {power.assumed.join("; ")}.</p>
      )}
    </>
  );
}

function Boxes() {
  const { power } = useSnapshot().evaluation;
  return (
    <>
      <h3 className="mt-3">Boxes</h3>
      <div className="overflow-x-auto">
        <Table aria-label="Power of the boxes">
          <Heads of={HEADS} />
          <tbody>
            {power.boxes.map((box) => (
              <tr key={box.id || "none"}>
                <td>{box.name}</td>
                <td className="num">{watts(box.idle_watts)}</td>
                <td className="num">{watts(box.busy_watts)}</td>
                <td className="num">{watts(box.surge_watts)}</td>
                <td className="num">{box.supply_watts ? watts(box.supply_watts) : "not said"}</td>
                <td className="num">{box.carried_share ? shareText(box.carried_share) : ""}</td>
                <td className="num whitespace-nowrap">
                  {watts(box.wall_busy_watts)}
                  {box.efficiency > 0 && (
                    <span className="faint text-sm"> at {shareText(box.efficiency)}</span>
                  )}
                </td>
                <td className="num">{box.noise_dba ? `${whole(box.noise_dba)} dB(A)` : ""}</td>
                <td className="num">{box.mass_kg ? `${box.mass_kg.toFixed(1)} kg` : ""}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
    </>
  );
}

/** What the room has to bear. */
function Bears() {
  const { evaluation, document } = useSnapshot();
  const { power } = evaluation;
  const money = moneyText(Math.round(power.price_per_year), document.currency ?? "EUR");
  return (
    <>
      <h3 className="mt-4">The room</h3>
      <Table aria-label="The room">
        <tbody>
          <Line name="From the wall at work, on average">
            <Figure id="power.busy">{watts(power.busy_watts)}</Figure>, {watts(power.mean_watts)}
          </Line>
          <Line name="A year">
            {whole(power.kwh_per_year)} kWh, {money}
          </Line>
          <Line name="The circuit">
            {power.circuit_share && power.circuit_watts
              ? `${shareText(power.circuit_share)} of ${watts(power.circuit_watts)}`
              : "not said in the brief"}
          </Line>
          <Line name="Heat">{whole(power.heat_btu_per_h)} BTU/h</Line>
          <Line name="Noise, all together">
            {power.noise_dba ? (
              <Figure id="power.noise">{whole(power.noise_dba)} dB(A)</Figure>
            ) : (
              "not said"
            )}
            {power.noise_dba_max ? ` of ${power.noise_dba_max} dB(A)` : ""}
          </Line>
          <Line name="A closet becomes warmer by">
            {power.closet_degrees == null ? "no closet" : `${whole(power.closet_degrees)} °C`}
          </Line>
          <Line name="Battery supplies hold">
            {power.battery_minutes == null
              ? "none is planned"
              : `${whole(power.battery_minutes)} min, carrying ${watts(power.battery_watts)}`}
          </Line>
        </tbody>
      </Table>
    </>
  );
}

/** What disks that spin down save, and what they cost. */
function StandStill() {
  const { evaluation, document } = useSnapshot();
  const down = evaluation.power.spin_down;
  if (!down) return null;
  const money = moneyText(Math.round(down.saved_price_per_year), document.currency ?? "EUR");
  return (
    <>
      <h3 className="mt-4">Disks that stand still</h3>
      <p>
        {down.disks} disks of the archive, spun down after {down.after_minutes} minutes,{" "}
        {down.is_planned ? "save" : "would save"} {whole(down.saved_kwh_per_year)} kWh a year,{" "}
        {money}. Whoever comes first waits {down.stall_seconds} s, and {whole(down.starts_per_year)}{" "}
        starts a year use up what a disk is rated for in {whole(down.worn_years)} years.
      </p>
    </>
  );
}

function Line({ name, children }: { name: string; children: ReactNode }) {
  return (
    <tr>
      <td>{name}</td>
      <td className="num">{children}</td>
    </tr>
  );
}
