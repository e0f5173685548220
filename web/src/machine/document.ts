import type { Doc, Part, PartKind } from "../api/client";
import { kinds, ports, ratioNames } from "./parts";
import { fedBy, portOf } from "./tree";

export const partName = (p: Part) => p.name || p.id;

/** Where a new part can go: every output, with what it feeds now. */
export function places(d: Doc): { port: string; words: string }[] {
  return d.parts.flatMap((p) =>
    ports(p).map((x) => {
      const port = portOf(p, x);
      const next = fedBy(d, port);
      const where = x ? `${partName(p)}, ${x} output` : partName(p);
      return { port, words: next ? `between ${where} and ${partName(next)}` : `at the ${where}` };
    }),
  );
}

function freeId(d: Doc, kind: PartKind): string {
  const taken = new Set(d.parts.map((p) => p.id));
  for (let n = 1; ; n++) {
    const id = n === 1 ? kind : `${kind}_${n}`;
    if (!taken.has(id)) return id;
  }
}

/** Puts a new part behind an output; what that output fed is fed by the new part. */
export function insertPart(d: Doc, port: string, kind: PartKind): { doc: Doc; id: string } {
  const id = freeId(d, kind);
  const added: Part = { id, kind, name: kinds[kind].words, from: port, ...kinds[kind].start };
  const out = ports(added)[0];
  const parts = d.parts.flatMap((p) => {
    const moved = p.from === port && out !== undefined ? { ...p, from: portOf(added, out) } : p;
    return p.from === port ? [added, moved] : [moved];
  });
  if (!parts.includes(added)) parts.push(added);
  return { doc: { ...d, parts }, id };
}

/** Everything fed by a part, directly or further on. */
function below(d: Doc, p: Part): Part[] {
  return ports(p).flatMap((x) => {
    const next = fedBy(d, portOf(p, x));
    return next ? [next, ...below(d, next)] : [];
  });
}

/**
 * Takes a part out. What its first output fed is fed by what fed the part;
 * what hangs on its other outputs goes with it.
 */
export function removal(d: Doc, id: string): { doc: Doc; gone: Part[] } | undefined {
  const p: Part | undefined = d.parts.find((x) => x.id === id);
  if (!p) return undefined;
  const feed = p.from;
  const outs = ports(p);
  // An axle's wheels make no sense on its propeller shaft.
  const keepFirst = outs.length > 0 && p.kind !== "axle";
  const gone = new Set<string>([id]);
  outs.forEach((x, i) => {
    if (i === 0 && keepFirst) return;
    const next = fedBy(d, portOf(p, x));
    if (next) for (const q of [next, ...below(d, next)]) gone.add(q.id);
  });
  const parts = d.parts
    .filter((q) => !gone.has(q.id))
    .map((q): Part => {
      if (keepFirst && q.from === portOf(p, outs[0] ?? "")) {
        const { from: _, ...rest } = q;
        return feed ? { ...q, from: feed } : rest;
      }
      return q;
    });
  const roots = parts.filter((q) => !q.from);
  if (parts.length === 0 || roots.length !== 1 || (roots[0] && kinds[roots[0].kind].end)) return undefined;
  return { doc: { ...d, parts }, gone: d.parts.filter((q) => gone.has(q.id)) };
}

export const setPart = (d: Doc, p: Part): Doc => ({ ...d, parts: d.parts.map((q) => (q.id === p.id ? p : q)) });

/** Puts a catalog part in a part's place; where it sits and what it is called by the others stays. */
export function swapPart(d: Doc, id: string, from: Part, source: string): Doc {
  return {
    ...d,
    parts: d.parts.map((q) => {
      if (q.id !== id) return q;
      const names = ratioNames(from);
      return {
        ...from,
        id: q.id,
        from: q.from,
        mounting: q.mounting,
        name: q.name,
        sources: Object.fromEntries(names.map((n) => [n, { kind: "plate" as const, text: source }])),
      };
    }),
  };
}
