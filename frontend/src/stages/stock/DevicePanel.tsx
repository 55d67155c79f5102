import { useId, useState, type SubmitEvent } from "react";

import type { Device, DeviceResult } from "../../api/client";
import { FileDrop } from "../../kit/FileDrop";
import { sizeText } from "../../kit/format";
import { factsOf, shownText, typedValue, type FieldName } from "../../kit/quantity";
import { SidePanel } from "../../kit/SidePanel";
import type { StockTools } from "./useStock";

type Key = keyof Device & string;
const TEXTS: Key[] = ["label", "place", "holder", "serial"];
const NUMBERS: Key[] = [
  "size_bytes",
  "used_bytes",
  "hours_run",
  "reallocated_sectors",
  "temperature_c",
];
const DATES: Key[] = ["bought_on", "warranty_end"];
const CHOICES: Key[] = ["kind", "medium", "interface", "recording"];

interface PanelProps {
  device: Device;
  result: DeviceResult | undefined;
  tools: StockTools;
  mayWrite: boolean;
  onClose: () => void;
}

/** One device: what is known of it, what it holds, and its health report. */
export function DevicePanel({ device, result, tools, mayWrite, onClose }: PanelProps) {
  const put = (changes: Record<string, unknown>) => tools.change.mutate({ id: device.id, changes });
  const shared = { device, disabled: !mayWrite, put };
  return (
    <SidePanel title={device.label} onClose={onClose}>
      {result && (
        <p>
          <b className="font-semibold">{result.health}</b>, {result.health_words}. Reuse:{" "}
          {result.reuse}, {result.reuse_because}.
        </p>
      )}
      {tools.change.isError && (
        <p className="problem" role="alert">
          {tools.change.error.message}
        </p>
      )}
      <div className="mt-3">
        {TEXTS.map((name) => (
          <Entry key={name} name={name} {...shared} />
        ))}
        {NUMBERS.map((name) => (
          <Entry key={name} name={name} {...shared} />
        ))}
        {DATES.map((name) => (
          <Entry key={name} name={name} type="date" {...shared} />
        ))}
        {CHOICES.map((name) => (
          <Pick key={name} name={name} {...shared} />
        ))}
        <label className="row">
          <span>Encrypted</span>
          <input
            type="checkbox"
            checked={device.is_encrypted ?? false}
            disabled={!mayWrite}
            onChange={(event) => put({ is_encrypted: event.target.checked })}
          />
          <span />
        </label>
      </div>
      <Holdings
        device={device}
        sole={new Set(result?.sole_material)}
        mayWrite={mayWrite}
        put={put}
      />
      {mayWrite && (
        <>
          <h3 className="mt-5 mb-1">Health report</h3>
          <FileDrop onFile={(file) => tools.report.mutate({ id: device.id, file })}>
            Drop what smartctl --json --all printed for it, or choose the file:
          </FileDrop>
          {tools.report.isSuccess && (
            <p role="status">{tools.report.data.message || "Taken over."}</p>
          )}
          {tools.report.isError && (
            <p className="problem" role="alert">
              {tools.report.error.message}
            </p>
          )}
          <button
            type="button"
            className="plain-button mt-5"
            onClick={() => tools.remove.mutate(device.id, { onSuccess: onClose })}
          >
            Take {device.label} off the stock
          </button>
        </>
      )}
    </SidePanel>
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
    <div className="row">
      <label htmlFor={id}>{facts.label}</label>
      <input
        id={id}
        type={type}
        className={`field ${isNumber ? "field-number" : "w-40"}`}
        autoComplete="off"
        disabled={disabled}
        value={text}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={enter}
        onKeyDown={(event) => event.key === "Enter" && enter()}
      />
      <span className="faint text-sm">{facts.unit}</span>
    </div>
  );
}

function Pick({ device, name, disabled, put }: EntryProps) {
  const facts = factsOf(`StockItem.${name}` as FieldName);
  const id = useId();
  return (
    <div className="row">
      <label htmlFor={id}>{facts.label}</label>
      <select
        id={id}
        className="field"
        disabled={disabled}
        value={String(device[name])}
        onChange={(event) => put({ [name]: event.target.value })}
      >
        {(facts.choices ?? []).map((choice) => (
          <option key={choice}>{choice}</option>
        ))}
      </select>
      <span />
    </div>
  );
}

/** What lies on the device; typed as a name and a size with its unit. */
function Holdings({
  device,
  sole,
  mayWrite,
  put,
}: {
  device: Device;
  sole: Set<string>;
  mayWrite: boolean;
  put: (changes: Record<string, unknown>) => void;
}) {
  const holdings = device.holdings ?? [];
  const add = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const fresh = {
      material: form.get("material"),
      bytes: form.get("bytes"),
      worth: form.get("worth"),
    };
    put({ holdings: [...holdings, fresh] });
    event.currentTarget.reset();
  };
  return (
    <>
      <h3 className="mt-5">Holds</h3>
      <ul>
        {holdings.map((holding) => (
          <li
            key={holding.material}
            className="flex justify-between gap-3 border-b border-base-300 py-1"
          >
            <span>
              {holding.material}{" "}
              {sole.has(holding.material) && <b className="font-semibold">only here</b>}
            </span>
            <span className="whitespace-nowrap">
              {sizeText(holding.bytes)}{" "}
              {mayWrite && (
                <button
                  type="button"
                  className="text-button"
                  onClick={() => put({ holdings: holdings.filter((other) => other !== holding) })}
                >
                  <span aria-hidden="true">✕</span>
                  <span className="sr-only">Remove {holding.material}</span>
                </button>
              )}
            </span>
          </li>
        ))}
      </ul>
      {mayWrite && (
        <form className="mt-2 flex flex-wrap gap-2" onSubmit={add}>
          <input
            name="material"
            className="field w-36 grow"
            aria-label="Material"
            placeholder="Project or shoot"
            required
            maxLength={80}
          />
          <input
            name="bytes"
            className="field w-24"
            aria-label="Size of the material"
            placeholder="1.2TB"
            required
          />
          <select name="worth" className="field" aria-label="Worth" defaultValue="costly">
            {(factsOf("Holding.worth").choices ?? []).map((choice) => (
              <option key={choice}>{choice}</option>
            ))}
          </select>
          <button type="submit" className="plain-button">
            Add
          </button>
        </form>
      )}
    </>
  );
}
