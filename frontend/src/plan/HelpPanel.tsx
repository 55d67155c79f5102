import { useState } from "react";

import { shortcutsOn, switchShortcuts } from "../kit/shortcuts";
import { SidePanel } from "../kit/SidePanel";
import { STAGES } from "./stages";
import { Table } from "../kit/Table";
import { Key } from "../kit/Key";
import { Checkbox } from "../kit/Input";

/** The keys, and how a plan is worked. */
export function HelpPanel({ onClose }: { onClose: () => void }) {
  const [on, setOn] = useState(shortcutsOn());
  const keys: [string, string][] = [
    ...STAGES.map((s): [string, string] => [
      `g ${s.number}`,
      `go to ${s.is_of_studio ? "the studio's " : ""}${s.title}`,
    ]),
    ["↑ ↓", "in a number: one step; with Shift ten"],
    ["u", "undo your last change"],
    ["r", "redo"],
    ["o", "go to what is still open"],
    ["f", "findings"],
    ["h", "history"],
    ["/", "find anything: what the plan has, other plans, devices, commands (also Ctrl K)"],
    ["F1", "in a field: what the trade's word in its label means"],
    ["?", "this help"],
    ["Esc", "close what is open"],
  ];
  return (
    <SidePanel title="Help" onClose={onClose}>
      <p>
        Change a number and the scales below answer at once. Nothing needs saving: a pause or
        leaving the field writes a revision, and every revision can be brought back. Sizes and rates
        may be typed with their unit: 18TB, 12.7 TiB, 220 Mb/s.
      </p>
      <Table className="mt-4">
        <tbody>
          {keys.map(([key, words]) => (
            <tr key={key}>
              <td className="w-16">
                <Key>{key}</Key>
              </td>
              <td>{words}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <label className="mt-4 block">
        <Checkbox
          checked={on}
          onChange={(event) => {
            switchShortcuts(event.target.checked);
            setOn(event.target.checked);
          }}
        />{" "}
        One-key shortcuts (they never act inside a field)
      </label>
    </SidePanel>
  );
}
