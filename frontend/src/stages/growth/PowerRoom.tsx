import { Cautions } from "../../kit/Cautions";
import { moneyText, shareText } from "../../kit/format";
import { Heads, Table } from "../../kit/Table";
import { Figure } from "../../plan/Figure";
import { useSnapshot } from "../../plan/context";
import { useGrowth } from "./useGrowth";

const watts = (value: number) => `${Math.round(value).toLocaleString("en-GB")} W`;

/** What supplies, circuit, room and batteries have to bear, with the cautions of that work. */
export function PowerRoom() {
  const { evaluation, document } = useSnapshot();
  const { power } = evaluation;
  const cautions = useGrowth().data?.cautions;
  const money = (amount: number) => moneyText(Math.round(amount), document.currency ?? "EUR");
  return (
    <>
      <h3 className="mt-3">Boxes</h3>
      <div className="overflow-x-auto">
        <Table aria-label="Power of the boxes">
          <Heads
            of={[
              "Box",
              "#Idle",
              "#At work",
              "#Spin-up",
              "#Its supply",
              "#Carried",
              "#From the wall",
              "#Noise",
              "#Mass",
            ]}
          />
          <tbody>
            {power.boxes.map((box) => (
              <tr key={box.id || "none"}>
                <td>{box.name}</td>
                <td className="num">{watts(box.idle_watts)}</td>
                <td className="num">{watts(box.busy_watts)}</td>
                <td className="num">{watts(box.surge_watts)}</td>
                <td className="num">{box.supply_watts ? watts(box.supply_watts) : "not said"}</td>
                <td className="num">{box.carried_share ? shareText(box.carried_share) : ""}</td>
                <td className="num">{watts(box.wall_busy_watts)}</td>
                <td className="num">{box.noise_dba ? `${Math.round(box.noise_dba)} dB(A)` : ""}</td>
                <td className="num">{box.mass_kg ? `${box.mass_kg.toFixed(1)} kg` : ""}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
      <Cautions of={[...(cautions?.mains ?? []), ...(cautions?.rack ?? [])]} />
      <h3 className="mt-4">The room</h3>
      <Table aria-label="The room">
        <tbody>
          <Line name="From the wall at work, on average">
            <Figure id="power.busy">{watts(power.busy_watts)}</Figure>, {watts(power.mean_watts)}
          </Line>
          <Line name="A year">
            {Math.round(power.kwh_per_year).toLocaleString("en-GB")} kWh,{" "}
            {money(power.price_per_year)}
          </Line>
          <Line name="The circuit">
            {power.circuit_share && power.circuit_watts
              ? `${shareText(power.circuit_share)} of ${watts(power.circuit_watts)}`
              : "not said in the brief"}
          </Line>
          <Line name="Heat">{Math.round(power.heat_btu_per_h).toLocaleString("en-GB")} BTU/h</Line>
          <Line name="Noise, all together">
            {power.noise_dba ? (
              <Figure id="power.noise">{Math.round(power.noise_dba)} dB(A)</Figure>
            ) : (
              "not said"
            )}
            {power.noise_dba_max ? ` of ${power.noise_dba_max} dB(A)` : ""}
          </Line>
          <Line name="A closet becomes warmer by">
            {power.closet_degrees != null ? `${power.closet_degrees.toFixed(0)} °C` : "no closet"}
          </Line>
          <Line name="Battery supplies hold">
            {power.battery_minutes != null
              ? `${Math.round(power.battery_minutes)} min, carrying ${watts(power.battery_watts)}`
              : "none is planned"}
          </Line>
        </tbody>
      </Table>
      <Cautions of={[...(cautions?.air ?? []), ...(cautions?.battery ?? [])]} />
      {power.spin_down && (
        <>
          <h3 className="mt-4">Disks that stand still</h3>
          <p>
            {power.spin_down.disks} disks of the archive, spun down after{" "}
            {power.spin_down.after_minutes} minutes,{" "}
            {power.spin_down.is_planned ? "save" : "would save"}{" "}
            {Math.round(power.spin_down.saved_kwh_per_year)} kWh a year,{" "}
            {money(power.spin_down.saved_price_per_year)}. Whoever comes first waits{" "}
            {power.spin_down.stall_seconds} s, and {Math.round(power.spin_down.starts_per_year)}{" "}
            starts a year use up what a disk is rated for in{" "}
            {Math.round(power.spin_down.worn_years)} years.
          </p>
        </>
      )}
      {power.assumed.length > 0 && (
        <p className="faint mt-2 text-sm">Not said, so assumed: {power.assumed.join("; ")}.</p>
      )}
    </>
  );
}

function Line({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <tr>
      <td>{name}</td>
      <td className="num">{children}</td>
    </tr>
  );
}
