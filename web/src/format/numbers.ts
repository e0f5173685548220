import type { Ratio } from "../api/client";

const tidy = (s: string) => s.replace("-", "−");

export const fixed = (n: number, places: number) => tidy(n.toFixed(places));

/** How sure, as it is said in a shop. */
export function chance(p: number): string {
  if (p >= 0.999) return "practically certain";
  if (p >= 0.985) return "99 in 100";
  if (p >= 0.93) return "19 in 20";
  if (p >= 0.495) return `about ${Math.round(p * 10)} in 10`;
  return p < 0.001 ? "less than 1 in 1,000" : `about 1 in ${Math.round(1 / p)}`;
}

/** A probability, never rounded up to certainty. */
export function percent(p: number): string {
  const v = p * 100;
  if (v > 99.99) return "over 99.99 %";
  if (v >= 99) return `${(Math.floor(v * 100) / 100).toFixed(2)} %`;
  if (v >= 10) return `${v.toFixed(1)} %`;
  if (v >= 0.1) return `${v.toFixed(1)} %`;
  return "under 0.1 %";
}

export const fraction = (r: Ratio) => tidy(`${r.num}/${r.den}`);

export const teethPair = (teeth: { member: string; count: number }[]) => teeth.map((t) => t.count).join(" : ");

export const label = (s: string) => tidy(s);

export const minutes = (m: number) => (m < 1.5 ? "1 min" : `${Math.round(m)} min`);

export const when = (iso: string) =>
  new Date(iso).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" });

/** A day as the locale has it. */
export const day = (iso: string) => new Date(iso).toLocaleDateString(undefined, { dateStyle: "medium" });

/** Kilometers in a mile. */
export const kmPerMile = 1.609344;

/** Lengths and speeds as the person prefers; the server takes mm and km/h. */
export type Units = "metric" | "inch";

export const lengthUnit = (u: Units) => (u === "inch" ? "in" : "mm");
export const speedUnit = (u: Units) => (u === "inch" ? "mph" : "km/h");
const thousandths = (v: number) => Math.round(v * 1000) / 1000;
export const toMM = (v: number, u: Units) => (u === "inch" ? thousandths(v * 25.4) : v);
export const toKMH = (v: number, u: Units) => (u === "inch" ? thousandths(v * kmPerMile) : v);

export const distanceUnit = (u: Units) => (u === "inch" ? "miles" : "km");
export const toKM = (v: number, u: Units) => (u === "inch" ? Math.round(v * kmPerMile * 1e6) / 1e6 : v);
export const fromKM = (v: number, u: Units) => (u === "inch" ? v / kmPerMile : v);

export const fromKMH = (v: number, u: Units) => (u === "inch" ? v / kmPerMile : v);
export const fromMM = (v: number, u: Units) => (u === "inch" ? v / 25.4 : v);

/** A change in percent with its sign. */
export const change = (n: number, places = 1) => {
  const s = n.toFixed(places);
  return `${Number(s) > 0 ? "+" : ""}${Number(s) === 0 ? s.replace("-", "") : tidy(s)} %`;
};

/** Money as written, with the sign or letters that the shop uses. */
export const money = (n: number, currency: string) =>
  `${n.toLocaleString(undefined, { minimumFractionDigits: 2, maximumFractionDigits: 2 })}${currency ? `\u00a0${currency}` : ""}`;

/** Fractions that a phone's keyboard has as one letter. */
const vulgar: Record<string, string> = {
  "½": "1/2",
  "⅓": "1/3",
  "⅔": "2/3",
  "¼": "1/4",
  "¾": "3/4",
  "⅛": "1/8",
  "⅜": "3/8",
  "⅝": "5/8",
  "⅞": "7/8",
};

/** A number as typed, with point or comma, or a fraction, "1 3/8"; undefined when empty, NaN when not a number. */
export function typed(s: string): number | undefined {
  const t = s
    .replace(/[½⅓⅔¼¾⅛⅜⅝⅞]/g, (c) => ` ${vulgar[c]}`)
    .replace(/[⁄∕]/g, "/")
    .replace(",", ".")
    .replace("−", "-")
    .trim();
  if (t === "") return undefined;
  const m = /^([+-]?) *(?:(\d+)[ -]+)?(\d+)\s*\/\s*(\d+)$/.exec(t);
  if (m) {
    const v = Number(m[2] ?? 0) + Number(m[3]) / Number(m[4]);
    return Number.isFinite(v) ? (m[1] === "-" ? -v : v) : Number.NaN;
  }
  return /^[+-]?(\d+\.?\d*|\.\d+)$/.test(t) ? Number(t) : Number.NaN;
}

/** A fraction as documents write it, as a decimal of at most three places. */
export function decimalOf(text: string): string {
  const [a, b] = text.split("/").map(Number);
  const v = b ? (a ?? 0) / b : (a ?? 0);
  return tidy(v.toFixed(3).replace(/\.?0+$/, ""));
}

/** A text that begins a line. */
export const capital = (s: string) => s.charAt(0).toUpperCase() + s.slice(1);
