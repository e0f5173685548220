import type { Part, PartKind } from "../../api/client";
import { getField, setField } from "./fields";
import type { Kind } from "./kind";

// Every kind registers itself: a file here whose default is a Kind.
const files = import.meta.glob<{ default?: Kind }>("./*.ts", { eager: true });

/** The kinds of part by name. */
export const kinds = Object.fromEntries(
  Object.values(files).flatMap((f) => (f.default ? [[f.default.kind, f.default]] : [])),
) as Record<PartKind, Kind>;

/** The outputs of a part; one without a name is written as "". */
export const ports = (p: Part): string[] => kinds[p.kind].ports?.(p) ?? [""];

/** The ratios that a part has, as its sources name them. */
export const ratioNames = (p: Part): string[] => kinds[p.kind].ratios?.(p) ?? [];

/** Whether a ratio of a part can be counted at the bench. */
export const measurable = (p: Part, ratio: string) => ratio !== "" && Boolean(kinds[p.kind].measured?.(p));

/** Takes out what belongs to another build of the part than it has now. */
export function tidy(p: Part): Part {
  return (kinds[p.kind].fields ?? [])
    .filter((f) => f.goes && f.when && !f.when(p))
    .reduce((q, f) => (getField(q, f.path) === undefined ? q : setField(q, f.path, undefined)), p);
}
