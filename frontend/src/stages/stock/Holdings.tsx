import { useId, useState, type SubmitEvent } from "react";

import type { Device } from "../../api/client";
import { FileDrop } from "../../kit/FileDrop";
import { dateText, sizeText, todayIso } from "../../kit/format";
import { factsOf, type FieldName } from "../../kit/quantity";
import { onlyHere } from "./shelf";
import type { StockTools } from "./useStock";
import { Button } from "../../kit/Button";
import { Input, Select } from "../../kit/Input";
import { Row } from "../../kit/Row";
import { Problem } from "../../kit/Problem";

type Put = (changes: Record<string, unknown>) => void;
type Holding = NonNullable<Device["holdings"]>[number];

interface HoldingsProps {
  device: Device;
  sole: Set<string>;
  mayWrite: boolean;
  put: Put;
  tools: StockTools;
}

/** What lies on the device; typed as a name and a size with its unit. */
export function Holdings({ device, sole, mayWrite, put, tools }: HoldingsProps) {
  const holdings = device.holdings ?? [];
  const replace = (old: Holding, changes: Partial<Holding> | null) =>
    put({
      holdings: holdings.flatMap((h) => (h !== old ? [h] : changes ? [{ ...h, ...changes }] : [])),
    });
  return (
    <>
      <h3 className="mt-5">Holds</h3>
      <ul>
        {holdings.map((holding) => (
          <OneHolding
            key={holding.material}
            holding={holding}
            only={sole.has(holding.material) ? onlyHere(device) : ""}
            replace={mayWrite ? (changes) => replace(holding, changes) : null}
          />
        ))}
      </ul>
      {mayWrite && <AddHolding holdings={holdings} put={put} />}
      {mayWrite && holdings.length > 0 && <Checksums device={device} tools={tools} />}
    </>
  );
}

function OneHolding({
  holding,
  only,
  replace,
}: {
  holding: Holding;
  /** That it exists nowhere else, in words. */
  only: string;
  replace: ((changes: Partial<Holding> | null) => void) | null;
}) {
  return (
    <li className="border-b border-base-300 py-1">
      <span className="flex justify-between gap-3">
        <span>
          {holding.material} {only && <b className="font-semibold">{only}</b>}
        </span>
        <span className="whitespace-nowrap">
          {sizeText(holding.bytes)}{" "}
          {replace && (
            <Button look="text" onClick={() => replace(null)}>
              <span aria-hidden="true">✕</span>
              <span className="sr-only">Remove {holding.material}</span>
            </Button>
          )}
        </span>
      </span>
      <span className="faint flex justify-between gap-3 text-sm">
        <span>
          {holding.worth}
          {holding.role === "unsaid" ? "" : `, ${holding.role}`}, read back{" "}
          {holding.read_back_on ? dateText(holding.read_back_on) : "never"}
        </span>
        {replace && (
          <Button look="text" onClick={() => replace({ read_back_on: todayIso() })}>
            Read back today
            <span className="sr-only">: {holding.material}</span>
          </Button>
        )}
      </span>
    </li>
  );
}

function AddHolding({ holdings, put }: { holdings: readonly Holding[]; put: Put }) {
  const add = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const names = ["material", "bytes", "worth", "role"];
    put({
      holdings: [...holdings, Object.fromEntries(names.map((name) => [name, form.get(name)]))],
    });
    event.currentTarget.reset();
  };
  return (
    <form className="mt-2 flex flex-wrap gap-2" onSubmit={add}>
      <Input
        name="material"
        className="w-36 grow"
        aria-label="Material"
        placeholder="Project or shoot"
        required
        maxLength={80}
      />
      <Input
        name="bytes"
        className="w-24"
        aria-label="Size of the material"
        placeholder="1.2TB"
        required
      />
      <Choice field="Holding.worth" name="worth" />
      <Choice field="Holding.role" name="role" />
      <Button type="submit">Add</Button>
    </form>
  );
}

function Choice({ field, name }: { field: FieldName; name: string }) {
  const facts = factsOf(field);
  return (
    <Select name={name} aria-label={facts.label} defaultValue={String(facts.default)}>
      {(facts.choices ?? []).map((choice) => (
        <option key={choice}>{choice}</option>
      ))}
    </Select>
  );
}

/** A checksum manifest of one material: it tells copies whatever they are called, and that it was read. */
function Checksums({ device, tools }: { device: Device; tools: StockTools }) {
  const materials = (device.holdings ?? []).map((h) => h.material);
  const [chosen, setChosen] = useState("");
  const id = useId();
  const material = materials.includes(chosen) ? chosen : (materials[0] ?? "");
  const { manifest } = tools;
  return (
    <>
      <h3 className="mt-5 mb-1">Checksums</h3>
      <Row of={id} label="Made over">
        <Select
          id={id}
          className="max-w-44"
          value={material}
          onChange={(event) => setChosen(event.target.value)}
        >
          {materials.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </Select>
      </Row>
      <FileDrop
        accept=".txt,.md5,.sha256,.sha1,.sha512,text/plain"
        onFile={(file) => manifest.mutate({ id: device.id, file, material })}
      >
        Drop what sha256sum or md5sum printed for it, or choose the file:
      </FileDrop>
      {manifest.isSuccess && <p role="status">Taken over: read back today.</p>}
      <Problem of={manifest.error} />
    </>
  );
}
