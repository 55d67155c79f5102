/** Figures as text: base units in, the trade's units out. Presentation only; nothing is judged here. */

import units from "../generated/units.json";

/** A language that writes figures so; the words stay ours. */
const LANGUAGES: Record<string, string> = {
  "1,234.56": "en-GB",
  "1.234,56": "de-DE",
  "1 234,56": "fr-FR",
  "1’234.56": "de-CH",
};
let language = "en-GB";

/** From now on figures are written as the plan on the page says. */
export function writeNumbers(as: string | undefined): void {
  language = LANGUAGES[as ?? ""] ?? "en-GB";
}

const formats = new Map<string, Intl.NumberFormat>();

/** The format of so many digits, or of a currency, as figures are written now. */
function written(digits: number, currency?: string): Intl.NumberFormat {
  const key = `${language} ${digits} ${currency ?? ""}`;
  let format = formats.get(key);
  if (!format) {
    format = new Intl.NumberFormat(language, {
      minimumFractionDigits: digits,
      maximumFractionDigits: digits,
      ...(currency && { style: "currency", currency }),
    });
    formats.set(key, format);
  }
  return format;
}

const WHOLE = { format: (value: number) => written(0).format(value) };
const TENTHS = { format: (value: number) => written(1).format(value) };
const HUNDREDTHS = { format: (value: number) => written(2).format(value) };

/** "12,000": a whole number. */
export const wholeText = (value: number): string => WHOLE.format(Math.round(value));

const TB = 1e12;
const GB = 1e9;
const TIB = 2 ** 40;

/** "57.0 TB", below one terabyte "480 GB". */
export function sizeText(bytes: number): string {
  if (Math.abs(bytes) < TB && bytes !== 0) return `${WHOLE.format(bytes / GB)} GB`;
  return `${TENTHS.format(bytes / TB)} TB`;
}

/** "57.0 TB · 51.9 TiB": the carton's number beside the screen's. */
export function bothSizes(bytes: number): string {
  return `${TENTHS.format(bytes / TB)} TB · ${TENTHS.format(bytes / TIB)} TiB`;
}

const oneFigure = (value: number): string => WHOLE.format(Number(value.toPrecision(1)));

/** "60 % of", or where that is too small a number "one in 10,000": one figure, no finer than odds are known. */
export function oddsText(odds: number): string {
  if (odds >= 0.95) return "nearly all";
  if (odds >= 0.01) return `${oneFigure(odds * 100)} % of`;
  return odds > 0 ? `one in ${oneFigure(1 / odds)}` : "no";
}

/** "65 %". */
export const shareText = (share: number): string => `${Number((share * 100).toPrecision(3))} %`;

/** "between 120 MB/s and 150 MB/s"; one figure where both are read the same. */
export function rangeText(low: number, high: number, of: (value: number) => string): string {
  const [least, most] = [of(low), of(high)];
  return least === most ? `about ${least}` : `between ${least} and ${most}`;
}

/** "1,420 MB/s". */
export function rateText(bytesPerS: number): string {
  return `${rateNumber(bytesPerS)} MB/s`;
}

export function rateNumber(bytesPerS: number): string {
  const mb = bytesPerS / 1e6;
  return mb > 0 && mb < 10 ? TENTHS.format(mb) : WHOLE.format(mb);
}

/** "€173.00": sums that stand under each other. */
export const centsText = (amount: number | string, currency: string): string =>
  written(2, currency).format(Number(amount));

/** "€9,840" for whole sums, "€173.20" otherwise. */
export function moneyText(amount: number | string, currency: string): string {
  const value = Number(amount);
  const digits = Number.isInteger(value) ? 0 : 2;
  return written(digits, currency).format(value);
}

export function ratioText(ratio: number): string {
  return `× ${ratio >= 100 ? WHOLE.format(ratio) : HUNDREDTHS.format(ratio)}`;
}

export type Unit = keyof typeof units;

interface Sign {
  after: string;
  before: string;
  factor: number;
  digits: number | null;
}

/** How the core's list writes a unit; what it does not know stands for itself. */
export const signOf = (unit: string): Sign =>
  (units as Record<string, Sign>)[unit] ?? { after: unit, before: "", factor: 1, digits: null };

/** Any explained or evidenced value, by the unit the core gave it. */
export function valueText(value: number | string, unit: string, currency: string): string {
  if (unit === "money") return moneyText(value, currency);
  const sign = signOf(unit);
  if (typeof value === "string") return `${value} ${sign.after}`.trim();
  if (unit === "bytes") return sizeText(value);
  if (unit === "bytes_per_s") return rateText(value);
  if (unit === "clock") return clockText(value * 60);
  if (unit === "ratio") return ratioText(value);
  if (unit === "per_bit") return `${value.toExponential(0)} ${sign.after}`;
  const shown = value / sign.factor;
  const digits = sign.digits ?? (Number.isInteger(shown) ? 0 : 2);
  return `${sign.before} ${written(digits).format(shown)} ${sign.after}`.trim();
}

/** "11:30" of clock seconds, also after midnight. */
export function clockText(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  const two = (n: number) => String(n).padStart(2, "0");
  return `${two(Math.floor(minutes / 60) % 24)}:${two(minutes % 60)}`;
}

/** Clock seconds of "11:30", or null where it is no time of day. */
export function secondsOf(text: string): number | null {
  const match = /^([01]?\d|2[0-3]):([0-5]\d)$/.exec(text.trim());
  return match ? Number(match[1]) * 3_600 + Number(match[2]) * 60 : null;
}

/** "just now", "4 min ago", "3 h ago", else the date. */
export function agoText(iso: string, now: number): string {
  const minutes = Math.floor((now - Date.parse(iso)) / 60_000);
  if (minutes < 1) return "just now";
  if (minutes < 60) return `${minutes} min ago`;
  if (minutes < 24 * 60) return `${Math.floor(minutes / 60)} h ago`;
  return dateText(iso);
}

/** "20 Nov 2026". */
export function dateText(iso: string): string {
  return new Date(iso).toLocaleDateString("en-GB", {
    day: "numeric",
    month: "short",
    year: "numeric",
  });
}

/** "March 2028". */
export function monthText(iso: string): string {
  return new Date(iso).toLocaleDateString("en-GB", { month: "long", year: "numeric" });
}

/** Today in this browser's zone, as a date field takes it. */
export const todayIso = (): string => new Date().toLocaleDateString("en-CA");

/** "40 min", "14 h", "3.5 days". */
export function hoursText(seconds: number): string {
  if (seconds < 5400) return `${WHOLE.format(seconds / 60)} min`;
  if (seconds < 48 * 3600) return `${WHOLE.format(seconds / 3600)} h`;
  return `${TENTHS.format(seconds / 86_400)} days`;
}

/** "1 service", "3 services". */
export const counted = (count: number, word: string, many = `${word}s`): string =>
  `${WHOLE.format(count)} ${count === 1 ? word : many}`;

/** "pool_reserve" as a label. */
export function stepLabel(step: string): string {
  const words = step.replaceAll("_", " ");
  return words.charAt(0).toUpperCase() + words.slice(1);
}
