import { useId, useState } from "react";

import type { Device, DeviceResult } from "../../api/client";
import { FileDrop } from "../../kit/FileDrop";
import { factsOf, shownText, typedValue, unitOf, type FieldName } from "../../kit/quantity";
import { SidePanel } from "../../kit/SidePanel";
import { DeviceLog } from "./DeviceLog";
import { HandOver } from "./HandOver";
import { Holdings } from "./Holdings";
import type { StockTools } from "./useStock";
import { Problem } from "../../kit/Problem";
import { Button } from "../../kit/Button";
import { Row } from "../../kit/Row";
import { Checkbox, Input, numberLook, Select } from "../../kit/Input";

type Key = keyof Device & string;
const TEXTS: Key[] = ["label", "place", "serial"];
const OF_A_BOX: Key[] = ["ports", "bays"];
const NUMBERS: Key[] = [
  "size_bytes",
  "used_bytes",
  "bays",
  "hours_run",
  "reallocated_sectors",
  "temperature_c",
];
const DATES: Key[] = ["bought_on", "warranty_end", "tested_on"];
const CHOICES: Key[] = ["kind", "medium", "drive_class", "interface", "recording"];

interface PanelProps {
  studio: string;
  device: Device;
  boxes: string[];
  result: DeviceResult | undefined;
  tools: StockTools;
  mayWrite: boolean;
  onClose: () => void;
}

/** One device: what is known of it, what it holds, and its health report. */
export function DevicePanel(props: PanelProps) {
  const { studio, device, boxes, result, tools, mayWrite, onClose } = props;
  const put = (changes: Record<string, unknown>) => tools.change.mutate({ id: device.id, changes });
  return (
    <SidePanel title={device.label} onClose={onClose}>
      {result && (
        <p>
          <b className="font-semibold">{result.health}</b>, {result.health_words}. Reuse:{" "}
          {result.reuse}, {result.reuse_because}.
        </p>
      )}
      <Problem of={tools.change.error} />
      <Fields device={device} boxes={boxes} disabled={!mayWrite} put={put} />
      <Holdings
        device={device}
        sole={new Set(result?.sole_material)}
        mayWrite={mayWrite}
        put={put}
        tools={tools}
      />
      {mayWrite && (
        <>
          <HandOver key={device.holder} device={device} tools={tools} />
          <HealthReport id={device.id} tools={tools} />
          <Problem of={tools.remove.error} />
          <Button
            className="mt-5"
            onClick={() => tools.remove.mutate(device.id, { onSuccess: onClose })}
          >
            Take {device.label} off the stock
          </Button>
        </>
      )}
      <DeviceLog studio={studio} id={device.id} version={tools.stock.dataUpdatedAt} />
    </SidePanel>
  );
}

/** What is known of it, in the order in which it is read off. */
function Fields({ boxes, ...shared }: Omit<EntryProps, "name" | "type"> & { boxes: string[] }) {
  const { device, disabled, put } = shared;
  const isBox = device.kind === "box";
  const texts = isBox ? [...TEXTS, ...OF_A_BOX] : TEXTS;
  return (
    <div className="mt-3">
      {texts.map((name) => (
        <Entry key={name} name={name} {...shared} />
      ))}
      {!isBox && <InBox boxes={boxes} {...shared} />}
      {NUMBERS.filter((name) => !OF_A_BOX.includes(name)).map((name) => (
        <Entry key={name} name={name} {...shared} />
      ))}
      {DATES.map((name) => (
        <Entry key={name} name={name} type="date" {...shared} />
      ))}
      {CHOICES.map((name) => (
        <Pick key={name} name={name} {...shared} />
      ))}
      <Row of={`${device.id}-encrypted`} label="Encrypted">
        <Checkbox
          id={`${device.id}-encrypted`}
          checked={device.is_encrypted ?? false}
          disabled={disabled}
          onChange={(event) => put({ is_encrypted: event.target.checked })}
        />
      </Row>
    </div>
  );
}

function HealthReport({ id, tools: { report } }: { id: string; tools: StockTools }) {
  return (
    <>
      <h3 className="mt-5 mb-1">Health report</h3>
      <FileDrop onFile={(file) => report.mutate({ id, file })}>
        Drop what smartctl --json --all printed for it, or choose the file:
      </FileDrop>
      {report.isSuccess && <p role="status">{report.data.message || "Taken over."}</p>}
      <Problem of={report.error} />
    </>
  );
}

interface EntryProps {
  device: Device;
  name: Key;
  type?: "text" | "date";
  disabled: boolean;
  put: (changes: Record<string, unknown>) => void;
}

/** A field that is written when it is left; a refused entry stays as typed. */
function Entry({ device, name, type = "text", disabled, put }: EntryProps) {
  const facts = factsOf(`StockItem.${name}` as FieldName);
  const stored = shownText(device[name], facts);
  const [typed, setTyped] = useState<string | null>(null);
  const id = useId();
  const isNumber = NUMBERS.includes(name);
  const enter = () => {
    if (typed === null || typed === stored) return setTyped(null);
    put({ [name]: isNumber ? typedValue(typed, facts) : type === "date" && !typed ? null : typed });
  };
  // What the server has taken over is what it shows; until then what was typed.
  const text = typed !== null && typed !== stored ? typed : stored;
  return (
    <Row of={id} label={facts.label} unit={unitOf(facts, "")}>
      <Input
        id={id}
        type={type}
        className={isNumber ? numberLook("") : "w-40"}
        disabled={disabled}
        value={text}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={enter}
        onKeyDown={(event) => event.key === "Enter" && enter()}
      />
    </Row>
  );
}

function Pick({ device, name, disabled, put }: EntryProps) {
  const facts = factsOf(`StockItem.${name}` as FieldName);
  const id = useId();
  return (
    <Row of={id} label={facts.label}>
      <Select
        id={id}
        disabled={disabled}
        value={String(device[name])}
        onChange={(event) => put({ [name]: event.target.value })}
      >
        {(facts.choices ?? []).map((choice) => (
          <option key={choice}>{choice}</option>
        ))}
      </Select>
    </Row>
  );
}

function InBox({ device, boxes, disabled, put }: Omit<EntryProps, "name"> & { boxes: string[] }) {
  const id = useId();
  if (!boxes.length) return null;
  return (
    <Row of={id} label={factsOf("StockItem.box").label}>
      <Select
        id={id}
        className="max-w-44"
        disabled={disabled}
        value={device.box ?? ""}
        onChange={(event) => put({ box: event.target.value })}
      >
        <option value="">in none</option>
        {boxes.map((box) => (
          <option key={box}>{box}</option>
        ))}
      </Select>
    </Row>
  );
}
