/** How a scale is said in a line; the figures and the verdict are the core's. */

import type { Scale } from "../api/client";
import { counted, moneyText, rateNumber, sizeText } from "../kit/format";

/** The four scales, in their order, and how each is called. */
export const SCALES = [
  ["speed", "Speed"],
  ["space", "Space"],
  ["safety", "Safety"],
  ["money", "Money"],
] as const;
export type ScaleName = (typeof SCALES)[number][0];

/** What there is for what is asked; of a scale that is open, what is known so far. */
export function headline(scale: Scale, currency: string): string {
  const hasNothing = scale.verdict === "open" && scale.have === 0;
  switch (scale.measure) {
    case "bytes_per_s":
      if (!scale.need) return "nothing asked yet";
      return hasNothing
        ? `${rateNumber(scale.need)} MB/s asked`
        : `${rateNumber(scale.have)} for ${rateNumber(scale.need)} MB/s`;
    case "files_per_s":
      return `${scale.have.toFixed(1)} for ${scale.need.toFixed(1)} files a second`;
    case "bytes":
      if (!scale.need) return "nothing kept yet";
      return hasNothing
        ? `${sizeText(scale.need)} needed`
        : `${sizeText(scale.have)} for ${sizeText(scale.need)}`;
    case "drives":
      if (hasNothing) return `to survive ${counted(scale.need, "drive")}`;
      return `survives ${counted(scale.have, "drive")}, ${scale.need} wanted`;
    case "copies":
      if (hasNothing) return `${counted(scale.need, "copy", "copies")} wanted`;
      return `${counted(scale.have, "copy", "copies")}, ${scale.need} wanted`;
    case "copies_elsewhere":
      return `${scale.have} of ${counted(scale.need, "copy", "copies")} elsewhere`;
    case "media_kinds":
      return `on ${scale.have} of ${scale.need} kinds of media`;
    case "years":
      return `1 in ${Number(scale.have.toPrecision(1)).toLocaleString("en-GB")} a year`;
    default:
      if (scale.verdict === "open" && !scale.need)
        return scale.have ? `${moneyText(scale.have, currency)} to spend` : "no budget yet";
      return `${moneyText(scale.need, currency)} of ${moneyText(scale.have, currency)}`;
  }
}
