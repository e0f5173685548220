import { typed } from "../../../format/numbers";

const notNumber = "Enter a number, for example 4 or 4.5";

/** Reads what was typed, and remembers what is missing or no number. */
export class Reader {
  notNumbers: Record<string, string> = {};
  missing: Record<string, string> = {};
  number(field: string, s: string, ask = "Enter a number"): number {
    const n = typed(s);
    if (n === undefined) this.missing[field] = ask;
    else if (Number.isNaN(n)) this.notNumbers[field] = notNumber;
    return n ?? 0;
  }
  whole(field: string, s: string, ask = "Enter a whole number"): number {
    const n = this.number(field, s, ask);
    if (!Number.isNaN(n) && !Number.isInteger(n)) this.notNumbers[field] = "Enter a whole number";
    if (Math.abs(n) > 1e6) this.notNumbers[field] = "too large to have been counted";
    return n;
  }
}
