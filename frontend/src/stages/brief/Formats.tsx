import { useState } from "react";

import type { PlanDocument } from "../../api/client";
import { Choice, Quantity, RefusedHere, TextField, Tick } from "../../plan/fields";
import type { FieldName } from "../../kit/quantity";
import published from "../../generated/published.json";
import { rateText } from "../../kit/format";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { AddItem } from "../../plan/AddItem";
import { useNewItem } from "../../plan/useNewItem";
import { Probed } from "./FormatChooser";
import { Entry } from "../../kit/Fold";
import { Button } from "../../kit/Button";
import { Problem } from "../../kit/Problem";
import { Select } from "../../kit/Input";

const SAMPLINGS: [string, string][] = [
  ["420", "4:2:0"],
  ["422", "4:2:2"],
  ["444", "4:4:4"],
  ["4444", "4:4:4 and alpha"],
  ["bayer", "Bayer"],
];
const PACKINGS: [string, string][] = [
  ["none", "none"],
  ["rgb32", "10-bit RGB in 4 bytes"],
  ["v16per6", "10-bit 4:2:2, 6 pixels in 16 bytes"],
];
const COMPUTED: [FieldName, string][] = [
  ["ComputedFormat.width", "width"],
  ["ComputedFormat.height", "height"],
  ["ComputedFormat.fps", "fps"],
  ["ComputedFormat.bits", "bits"],
  ["ComputedFormat.ratio", "ratio"],
  ["ComputedFormat.audio_channels", "audio_channels"],
];
const AUDIO: [FieldName, string][] = [
  ["AudioFormat.channels", "channels"],
  ["AudioFormat.sample_rate_hz", "sample_rate_hz"],
  ["AudioFormat.bits", "bits"],
];
const MODEL = {
  class: "ClassFormat",
  computed: "ComputedFormat",
  measured: "MeasuredFormat",
  audio: "AudioFormat",
  stills: "StillsFormat",
} as const;
const NEW: [keyof typeof MODEL, string][] = [
  ["class", "by rate"],
  ["computed", "by frame size"],
  ["audio", "sound"],
  ["stills", "stills in a row"],
];

type Format = NonNullable<NonNullable<PlanDocument["catalogue"]>["formats"]>[number];

/** The plan's formats: by target rate, by geometry, or measured from the studio's own clips. */
export function Formats() {
  const { mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  const [added, setAdded] = useState("");
  return (
    <>
      {(document.catalogue?.formats ?? []).map((format) => (
        <OneFormat key={format.id} format={format} isNew={format.id === added} />
      ))}
      <RefusedHere path="catalogue/formats" />
      {mayWrite && <AddFormat onAdded={setAdded} />}
    </>
  );
}

function OneFormat({ format, isNew }: { format: Format; isNew: boolean }) {
  const { session, mayWrite } = usePlanTools();
  const { evaluation } = useSnapshot();
  const path = `catalogue/formats/${format.id}`;
  const rate = evaluation.brief.formats.find((f) => f.id === format.id);
  return (
    <Entry
      name={format.name}
      figure={rate ? rateText(rate.mean_bytes_per_s) : ""}
      open={isNew || rate === undefined}
    >
      <TextField
        field={`${MODEL[format.kind]}.name` as FieldName}
        path={`${path}/name`}
        label="Name"
      />
      <OfItsKind format={format} path={path} />
      {mayWrite &&
        (rate?.is_used ? (
          <p className="faint text-sm">In use by a seat, camera unit or production.</p>
        ) : (
          <Button look="text" onClick={() => session.change({ op: "remove", path })}>
            Remove {format.name}
          </Button>
        ))}
    </Entry>
  );
}

/** The fields that only formats of this kind have. */
function OfItsKind({ format, path }: { format: Format; path: string }) {
  switch (format.kind) {
    case "class":
      return <Quantity field="ClassFormat.bytes_per_s" path={`${path}/bytes_per_s`} />;
    case "audio":
      return AUDIO.map(([field, key]) => (
        <Quantity key={key} field={field} path={`${path}/${key}`} />
      ));
    case "stills":
      return (
        <>
          <Quantity field="StillsFormat.image_bytes" path={`${path}/image_bytes`} />
          <Quantity field="StillsFormat.interval_s" path={`${path}/interval_s`} />
        </>
      );
    case "computed":
      return (
        <>
          {COMPUTED.map(([field, key]) => (
            <Quantity key={key} field={field} path={`${path}/${key}`} />
          ))}
          <Choice field="ComputedFormat.sampling" path={`${path}/sampling`} options={SAMPLINGS} />
          <Choice field="ComputedFormat.packing" path={`${path}/packing`} options={PACKINGS} />
          <Tick field="ComputedFormat.one_file_a_frame" path={`${path}/one_file_a_frame`} />
        </>
      );
    default:
      return <Measured format={format} path={path} />;
  }
}

function Measured({
  format,
  path,
}: {
  format: Extract<Format, { kind: "measured" }>;
  path: string;
}) {
  return (
    <>
      <Quantity field="MeasuredFormat.mean_bytes_per_s" path={`${path}/mean_bytes_per_s`} />
      <Quantity field="MeasuredFormat.peak_bytes_per_s" path={`${path}/peak_bytes_per_s`} />
      <p className="faint">
        {format.codec_class}, measured on {format.clip}
        {(format.clip_count ?? 1) > 1 &&
          `, from ${rateText(format.low_bytes_per_s ?? 0)} to ${rateText(format.high_bytes_per_s ?? 0)}`}
        {format.peak_bytes_per_s === null ? "; no packets in the file, so no peak" : ""}
      </p>
    </>
  );
}

/** A format by its published class, by its kind, or by what is read from clips; one just added stands open. */
function AddFormat({ onAdded }: { onAdded: (id: string) => void }) {
  const { problem, add } = useNewItem();
  const addFormat = (given: Record<string, unknown>) =>
    add({ path: "catalogue/formats", given, onAdded });
  return (
    <>
      <PublishedClasses onChoose={addFormat} />
      <p className="mt-2 flex flex-wrap gap-x-5">
        {NEW.map(([kind, words]) => (
          <AddItem key={kind} path="catalogue/formats" given={{ kind }} onAdded={onAdded}>
            Add {words}
          </AddItem>
        ))}
      </p>
      <Problem of={problem} />
      <div className="mt-3">
        <Probed onRead={addFormat} />
      </div>
    </>
  );
}

function PublishedClasses({ onChoose }: { onChoose: (given: Record<string, unknown>) => void }) {
  const choose = (index: string) => {
    const chosen = published[Number(index)];
    if (chosen) onChoose({ kind: "class", name: chosen.name, bytes_per_s: chosen.bytes_per_s });
  };
  return (
    <label className="mt-2 flex min-w-0 flex-wrap items-center gap-2">
      <span className="whitespace-nowrap">Add a published class</span>
      <Select className="w-full min-w-0" value="" onChange={(event) => choose(event.target.value)}>
        <option value="">choose …</option>
        {published.map((each, n) => (
          <option key={each.name} value={n}>
            {each.name} ({each.source})
          </option>
        ))}
      </Select>
    </label>
  );
}
