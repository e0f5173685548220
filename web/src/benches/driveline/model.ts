import type { Doc, DrivelineState, Exact, Trace } from "../../api/client";

export type Work = { doc: Doc; state: DrivelineState };
/** A state as part of a link. */
export function packState(s: DrivelineState): string {
  return btoa(unescape(encodeURIComponent(JSON.stringify(s))))
    .replace(/\+/g, "-")
    .replace(/\//g, "_")
    .replace(/=+$/, "");
}

export function unpackState(text: string | null): DrivelineState | undefined {
  if (!text) return undefined;
  try {
    const v: unknown = JSON.parse(decodeURIComponent(escape(atob(text.replace(/-/g, "+").replace(/_/g, "/")))));
    return typeof v === "object" && v !== null ? (v as DrivelineState) : undefined;
  } catch {
    return undefined;
  }
}

/** A fraction as it is said: whole numbers alone, else num/den; long ones as decimals only. */
export function exactText(e: Exact | undefined): string {
  if (!e) return "?";
  if (e.den === 1) return String(e.num).replace("-", "−");
  const t = `${e.num}/${e.den}`.replace("-", "−");
  return t.length > 13 ? `≈ ${e.decimal.toFixed(4).replace("-", "−")}` : t;
}

/** Sets a selector with everything that its interlocks need. */
export function select(s: DrivelineState, t: Trace, id: string, value: string): DrivelineState {
  const set: Record<string, string> = { ...s.select, [id]: value };
  const option = t.selectors.find((x) => x.id === id)?.options.find((o) => o.value === value);
  for (const n of option?.needs ?? []) set[n.selector] = n.value;
  // A position that needed this one can't stay.
  for (const other of t.selectors) {
    const at = set[other.id] ?? other.value;
    const o = other.options.find((x) => x.value === at);
    if (other.id !== id && o?.needs?.some((n) => n.selector === id && n.value !== value)) {
      set[other.id] = other.options.find((x) => !x.needs?.length)?.value ?? at;
    }
  }
  return { ...s, select: set };
}

export function without<T extends object, K extends keyof T>(o: T, key: K): Omit<T, K> {
  const { [key]: _, ...rest } = o;
  return rest;
}
