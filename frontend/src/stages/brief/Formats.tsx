import { useMutation } from "@tanstack/react-query";

import { sendFile, type Clip } from "../../api/client";
import { Choice, Quantity, RefusedHere, TextField } from "../../kit/fields";
import type { FieldName } from "../../kit/quantity";
import { FileDrop } from "../../kit/FileDrop";
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
];

/** The plan's formats: by target rate, by geometry, or measured from the studio's own clips. */
export function Formats() {
  const { session, studio, mayWrite } = usePlanTools();
  const { document, evaluation } = useSnapshot();
  const formats = document.catalogue?.formats ?? [];
  const rates = new Map(evaluation.brief.formats.map((f) => [f.id, f]));
  const used = new Set(
    [...(document.plan.brief.seats ?? []), ...(document.plan.brief.shoots ?? [])].flatMap((s) =>
      "format_id" in s ? [s.format_id] : [],
    ),
  );
  const add = (value: Record<string, unknown>, word: string) =>
    session.change({
      op: "add",
      path: "catalogue/formats",
      value: { id: freshId(word, formats), ...value },
    });
  const probe = useMutation({
    mutationFn: (file: File) => sendFile<{ clip: Clip }>(`/api/studios/${studio}/probe`, file),
    onSuccess: ({ clip }) =>
      add(
        {
          kind: "measured",
          name: clip.name.slice(0, 80) || "Measured clip",
          mean_bytes_per_s: clip.mean_bytes_per_s ?? 0,
          peak_bytes_per_s: clip.peak_bytes_per_s,
          codec_class: clip.video[0]?.codec_class ?? "other",
          clip: clip.name.slice(0, 400),
        },
        clip.name,
      ),
  });
  return (
    <>
      {formats.map((format) => {
        const path = `catalogue/formats/${format.id}`;
        const rate = rates.get(format.id);
        const name: FieldName =
          format.kind === "class"
            ? "ClassFormat.name"
            : format.kind === "computed"
              ? "ComputedFormat.name"
              : "MeasuredFormat.name";
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
                    {format.peak_bytes_per_s === null ? "; no packets in the file, so no peak" : ""}
                  </p>
                </>
              )}
              {mayWrite &&
                (used.has(format.id) ? (
                  <p className="faint text-sm">In use by a seat or camera unit.</p>
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
          <p className="mt-2 flex gap-5">
            <button
              type="button"
              className="text-button"
              onClick={() =>
                add(
                  { kind: "class", name: "New class, 100 Mb/s", bytes_per_s: 12_500_000 },
                  "class",
                )
              }
            >
              Add by rate
            </button>
            <button
              type="button"
              className="text-button"
              onClick={() =>
                add(
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
                  },
                  "format",
                )
              }
            >
              Add by frame size
            </button>
          </p>
          <div className="mt-3">
            <FileDrop onFile={probe.mutate}>
              Drop what ffprobe printed about one of your own clips, or choose the file:
            </FileDrop>
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
