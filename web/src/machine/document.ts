import type { Doc, Part, PartKind } from "../api/client";

/** The outputs of a part; one without a name is written as "". */
export function ports(p: Part): string[] {
  switch (p.kind) {
    case "transfer_case":
      return p.transfer_case?.front?.type === "none" ? ["rear"] : ["rear", "front"];
    case "axle":
      return ["left", "right"];
    case "differential":
      return ["here", "through"];
    case "gearcase":
      return p.gearcase?.twin ? ["outer", "inner"] : [""];
    case "wheel":
    case "propeller":
      return [];
    default:
      return [""];
  }
}

export const portOf = (p: Part, port: string) => (port ? `${p.id}.${port}` : p.id);

export const fedBy = (d: Doc, port: string): Part | undefined => d.parts.find((p) => p.from === port);

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

export const partKindWords: Record<PartKind, string> = {
  engine: "Engine",
  clutch: "Clutch or converter",
  gearbox: "Gearbox",
  planetary: "Planetary set",
  transfer_case: "Transfer case",
  shaft: "Shaft",
  differential: "Inter-axle differential",
  gear_pair: "Gear or chain pair",
  axle: "Axle",
  hub: "Hub reduction",
  wheel: "Wheel",
  upper: "Upper set",
  reverse_gear: "Reverse gear",
  gearcase: "Gearcase",
  propeller: "Propeller",
};

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
  const added: Part = { id, kind, name: partKindWords[kind], from: port, ...startOf(kind) };
  const out = ports(added)[0];
  const parts = d.parts.flatMap((p) => {
    const moved = p.from === port && out !== undefined ? { ...p, from: portOf(added, out) } : p;
    return p.from === port ? [added, moved] : [moved];
  });
  if (!parts.includes(added)) parts.push(added);
  return { doc: { ...d, parts }, id };
}

function startOf(kind: PartKind): Partial<Part> {
  switch (kind) {
    case "gearbox":
      return { gearbox: { arrangement: "ratios", gears: ["1", "2", "3", "4", "R"].map((name) => ({ name })) } };
    case "axle":
      return { axle: { differential: { type: "open" } } };
    case "transfer_case":
      return {
        transfer_case: { range: { type: "planetary" }, center: { type: "part_time" }, front: { type: "chain" } },
      };
    default:
      return {};
  }
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
  if (parts.length === 0 || roots.length !== 1 || roots[0]?.kind === "wheel" || roots[0]?.kind === "propeller")
    return undefined;
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

/** The ratios that a part has, as its sources name them. */
export function ratioNames(p: Part): string[] {
  switch (p.kind) {
    case "gearbox":
      return p.gearbox?.gears.map((g) => g.name) ?? [];
    case "transfer_case":
      return [
        ...(p.transfer_case?.range?.type === "none" ? [] : ["low"]),
        ...(p.transfer_case?.front?.type === "none" ? [] : ["front"]),
      ];
    case "reverse_gear":
      return ["ahead", "astern"];
    case "axle":
    case "hub":
    case "gear_pair":
    case "planetary":
    case "upper":
    case "gearcase":
      return ["ratio"];
    default:
      return [];
  }
}
