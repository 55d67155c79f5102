import { useMutation } from "@tanstack/react-query";

import { sendFiles, type Clips } from "../../api/client";
import { Choice, Quantity, RefusedHere, TextField } from "../../plan/fields";
import type { FieldName } from "../../kit/quantity";
import published from "../../generated/published.json";
import { FilesDrop } from "../../kit/FileDrop";
import { rateText } from "../../kit/format";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { freshId } from "../../plan/patch";

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
const NEW: [string, Record<string, unknown>][] = [
  ["by rate", { kind: "class", name: "New class, 100 Mb/s", bytes_per_s: 12_500_000 }],
  [
    "by frame size",
    {
      kind: "computed",
      name: "New format",
      width: 1920,
      height: 1080,
      fps: 25,
      sampling: "422",
      bits: 10,
      ratio: 5,
      packing: "none",
      audio_channels: 2,
    },
  ],
  ["sound", { kind: "audio", name: "Sound", channels: 2, sample_rate_hz: 48_000, bits: 24 }],
  [
    "stills in a row",
    { kind: "stills", name: "Time-lapse", image_bytes: 40_000_000, interval_s: 20 },
  ],
];

/** The plan's formats: by target rate, by geometry, or measured from the studio's own clips. */
export function Formats() {
  const { session, studio, mayWrite } = usePlanTools();
  const { document, evaluation } = useSnapshot();
  const formats = document.catalogue?.formats ?? [];
  const rates = new Map(evaluation.brief.formats.map((f) => [f.id, f]));
  const used = new Set(
    [
      ...(document.plan.brief.seats ?? []),
      ...(document.plan.brief.seats ?? []).flatMap((s) =>
        "activities" in s ? (s.activities ?? []) : [],
      ),
      ...(document.plan.brief.shoots ?? []),
      ...(document.plan.brief.productions ?? []),
    ].flatMap((s) => ("format_id" in s ? [s.format_id] : [])),
  );
  const add = (value: Record<string, unknown>, word: string) =>
    session.change({
      op: "add",
      path: "catalogue/formats",
      value: { ...value, id: freshId(word, formats) },
    });
  const probe = useMutation({
    mutationFn: (files: File[]) => sendFiles<Clips>(`/api/studios/${studio}/probe`, files),
    onSuccess: ({ format }) => add({ ...format }, format.name),
  });
  return (
    <>
      {formats.map((format) => {
        const path = `catalogue/formats/${format.id}`;
        const rate = rates.get(format.id);
        const name = `${MODEL[format.kind]}.name` as FieldName;
        return (
          <details
            key={format.id}
            className="border-b border-base-300 py-1"
            open={rate === undefined}
          >
            <summary className="flex cursor-pointer justify-between gap-3">
              <span>{format.name}</span>
              <span className="font-semibold whitespace-nowrap">
                {rate ? rateText(rate.mean_bytes_per_s) : ""}
              </span>
            </summary>
            <div className="py-1 pl-4">
              <TextField field={name} path={`${path}/name`} label="Name" />
              {format.kind === "class" && (
                <Quantity field="ClassFormat.bytes_per_s" path={`${path}/bytes_per_s`} />
              )}
              {format.kind === "audio" &&
                AUDIO.map(([field, key]) => (
                  <Quantity key={key} field={field} path={`${path}/${key}`} />
                ))}
              {format.kind === "stills" && (
                <>
                  <Quantity field="StillsFormat.image_bytes" path={`${path}/image_bytes`} />
                  <Quantity field="StillsFormat.interval_s" path={`${path}/interval_s`} />
                </>
              )}
              {format.kind === "computed" && (
                <>
                  {COMPUTED.map(([field, key]) => (
                    <Quantity key={key} field={field} path={`${path}/${key}`} />
                  ))}
                  <Choice
                    field="ComputedFormat.sampling"
                    path={`${path}/sampling`}
                    options={SAMPLINGS}
                  />
                  <Choice
                    field="ComputedFormat.packing"
                    path={`${path}/packing`}
                    options={PACKINGS}
                  />
                </>
              )}
              {format.kind === "measured" && (
                <>
                  <Quantity
                    field="MeasuredFormat.mean_bytes_per_s"
                    path={`${path}/mean_bytes_per_s`}
                  />
                  <Quantity
                    field="MeasuredFormat.peak_bytes_per_s"
                    path={`${path}/peak_bytes_per_s`}
                  />
                  <p className="faint">
                    {format.codec_class}, measured on {format.clip}
                    {(format.clip_count ?? 1) > 1 &&
                      `, from ${rateText(format.low_bytes_per_s ?? 0)} to ${rateText(format.high_bytes_per_s ?? 0)}`}
                    {format.peak_bytes_per_s === null ? "; no packets in the file, so no peak" : ""}
                  </p>
                </>
              )}
              {mayWrite &&
                (used.has(format.id) ? (
                  <p className="faint text-sm">In use by a seat, camera unit or production.</p>
                ) : (
                  <button
                    type="button"
                    className="text-button"
                    onClick={() => session.change({ op: "remove", path })}
                  >
                    Remove {format.name}
                  </button>
                ))}
            </div>
          </details>
        );
      })}
      <RefusedHere path="catalogue/formats" />
      {mayWrite && (
        <>
          <label className="mt-2 flex items-center gap-2">
            <span className="whitespace-nowrap">Add a published class</span>
            <select
              className="field grow"
              value=""
              onChange={(event) => {
                const chosen = published[Number(event.target.value)];
                if (chosen)
                  add(
                    { kind: "class", name: chosen.name, bytes_per_s: chosen.bytes_per_s },
                    chosen.name,
                  );
              }}
            >
              <option value="">choose …</option>
              {published.map((each, n) => (
                <option key={each.name} value={n}>
                  {each.name} ({each.source})
                </option>
              ))}
            </select>
          </label>
          <p className="mt-2 flex flex-wrap gap-x-5">
            {NEW.map(([words, value]) => (
              <button
                key={words}
                type="button"
                className="text-button"
                onClick={() => add(value, words)}
              >
                Add {words}
              </button>
            ))}
          </p>
          <div className="mt-3">
            <FilesDrop onFiles={probe.mutate}>
              Drop what ffprobe printed about your own clips, several of one kind together, or
              choose the files:
            </FilesDrop>
            <code className="faint mt-1 block text-xs">
              ffprobe -v error -of json -show_format -show_streams -show_packets CLIP
            </code>
            {probe.isPending && <p className="faint">Reading …</p>}
            {probe.isError && (
              <p className="problem" role="alert">
                {probe.error.message}
              </p>
            )}
          </div>
        </>
      )}
    </>
  );
}
