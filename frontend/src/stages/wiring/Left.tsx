import type { Evaluation } from "../../api/client";
import { Heads, Table } from "../../kit/Table";

type Plugs = Evaluation["plugs"];

/** What is left of ports and slots, and which address leads where. */
export function Left({ plugs }: { plugs: Plugs }) {
  return (
    <>
      <PortsLeft plugs={plugs} />
      {plugs.addresses.length > 0 && (
        <>
          <h3 className="mt-5">Ways to a box</h3>
          <Table aria-label="Addresses">
            <Heads of={["Box", "Address", "Mounted by"]} />
            <tbody>
              {plugs.addresses.map((address) => (
                <tr key={address.link_id}>
                  <td>{address.box_name}</td>
                  <td>{address.address}</td>
                  <td className="faint">{address.mounted_by.join(", ") || "nobody"}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        </>
      )}
    </>
  );
}

function PortsLeft({ plugs }: { plugs: Plugs }) {
  if (!plugs.ports.length && !plugs.slots.length && !plugs.lanes.length) return null;
  return (
    <>
      <h3 className="mt-5">Ports, lanes and slots left</h3>
      <Table aria-label="Ports, lanes and slots left">
        <tbody>
          {plugs.ports.map((port) => (
            <tr key={`${port.at} ${port.speed}`}>
              <td>
                {port.name}, {port.speed}
              </td>
              <td className={`num ${port.free ? "" : "font-semibold"}`}>
                {port.free} of {port.count}
              </td>
            </tr>
          ))}
          {plugs.lanes.map((box) => (
            <tr key={`${box.box_id} lanes`}>
              <td>{box.box_name}, PCIe lanes</td>
              <td className={`num ${box.wired < box.count ? "" : "font-semibold"}`}>
                {Math.max(box.count - box.wired, 0)} of {box.count}
              </td>
            </tr>
          ))}
          {plugs.slots.map((slot) => (
            <tr key={`${slot.box_id} ${slot.name}`}>
              <td>
                {slot.box_name}, {slot.name}
                {slot.bus && <span className="faint"> {slot.bus}</span>}
              </td>
              <td className="num">{slot.holds}</td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}
