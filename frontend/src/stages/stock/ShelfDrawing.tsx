import { memo } from "react";

import type { Device, DeviceResult } from "../../api/client";
import { sizeText } from "../../kit/format";
import { shelves } from "./shelf";

const WIDTH = 720;
const BLOCK = 34;
const TITLE = 20;
const MOST_DRAWN = 100;
export const HEALTH_MARKS: Record<DeviceResult["health"], string> = {
  sound: "○",
  old: "◐",
  failing: "✕",
  unknown: "?",
};

/** The elevation of places as shelves: a block as wide as its TB, filled to its use, sole copies notched. */
export const ShelfDrawing = memo(function ShelfDrawing({
  devices,
  results,
}: {
  devices: Device[];
  results: Map<string, DeviceResult>;
}) {
  const drawn = shelves(devices.slice(0, MOST_DRAWN), WIDTH);
  const heights = drawn.map((shelf) => TITLE + shelf.rows.length * (BLOCK + 8) + 6);
  const tops = heights.reduce<number[]>((at, height) => [...at, (at.at(-1) ?? 0) + height], [0]);
  return (
    <>
      <svg
        className="drawing mt-2"
        viewBox={`0 0 ${WIDTH} ${tops.at(-1) ?? 0}`}
        role="img"
        aria-label={drawn
          .map((shelf) => `${shelf.place}: ${shelf.rows.flat().length} devices`)
          .join("; ")}
      >
        {drawn.map((shelf, index) => (
          <g key={shelf.place} transform={`translate(0 ${tops[index] ?? 0})`}>
            <text x="0" y="13" className="font-semibold">
              {shelf.place}
            </text>
            {shelf.rows.map((row, at) => {
              const y = TITLE + at * (BLOCK + 8);
              return (
                <g key={at} transform={`translate(0 ${y})`}>
                  {row.map(({ device, x, width }) => (
                    <g key={device.id} transform={`translate(${x} 0)`}>
                      <Block device={device} width={width} result={results.get(device.id)} />
                    </g>
                  ))}
                  <path d={`M0 ${BLOCK + 2} H${WIDTH}`} className="ink" strokeWidth="2" />
                </g>
              );
            })}
          </g>
        ))}
      </svg>
      <p className="faint text-sm">
        Width is capacity, the filled part is used. Notched: holds something that exists only there.{" "}
        {Object.entries(HEALTH_MARKS)
          .map(([word, mark]) => `${mark} ${word}`)
          .join("  ")}
        {devices.length > MOST_DRAWN ? ` · ${devices.length - MOST_DRAWN} more not drawn` : ""}
      </p>
    </>
  );
});

function Block({
  device,
  width,
  result,
}: {
  device: Device;
  width: number;
  result: DeviceResult | undefined;
}) {
  const used = device.used_bytes ?? 0;
  const size = sizeText(device.size_bytes);
  return (
    <>
      <title>{`${device.label}: ${sizeText(used)} of ${size}, ${result?.health ?? ""}`}</title>
      <rect
        width={(width * used) / (device.size_bytes || 1)}
        height={BLOCK}
        className="teal-soft"
      />
      <rect width={width} height={BLOCK} className="hollow" strokeWidth="1.25" />
      {(result?.sole_bytes ?? 0) > 0 && (
        <path
          d={`M${width} 0 H${width - 13} L${width} 13 Z`}
          fill="url(#hatch-copper)"
          className="ink"
        />
      )}
      <text x="4" y="14" className="font-semibold">
        {result ? HEALTH_MARKS[result.health] : ""} {width > 62 ? device.label : ""}
      </text>
      {width > 48 && (
        <text x="4" y="28" className="quiet">
          {size}
        </text>
      )}
    </>
  );
}
