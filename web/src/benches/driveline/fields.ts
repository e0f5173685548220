import type { Part, PartKind } from "../../api/client";

/** One thing that can be known of a part; path leads to it within the part's own property. */
export type Field = {
  path: string;
  label: string;
  type: "teeth" | "figure" | "number" | "choice" | "yes";
  options?: { value: string; label: string }[];
  /** Shown only where this holds. */
  when?: (p: Part) => boolean;
  hint?: string;
};

const teeth = (path: string, label: string, when?: Field["when"]): Field => ({
  path,
  label: `${label}, teeth`,
  type: "teeth",
  when,
});
const figure = (path: string, label: string, hint?: string, when?: Field["when"]): Field => ({
  path,
  label,
  type: "figure",
  hint,
  when,
});
const choice = (path: string, label: string, options: [string, string][], when?: Field["when"]): Field => ({
  path,
  label,
  type: "choice",
  options: options.map(([value, l]) => ({ value, label: l })),
  when,
});
const yes = (path: string, label: string, when?: Field["when"]): Field => ({ path, label, type: "yes", when });

const diffTypes: [string, string][] = [
  ["open", "open"],
  ["limited_slip", "limited slip"],
  ["locking", "open, with a lock"],
  ["spool", "spool"],
];

/** What makes a differential stiff between its sides, where it is a limited slip. */
const limitedSlip = (path: string, of: (p: Part) => { type?: string; slip?: string } | undefined): Field[] => {
  const is = (p: Part, ...kinds: string[]) =>
    of(p)?.type === "limited_slip" && kinds.includes(of(p)?.slip ?? "clutches");
  return [
    choice(
      `${path}slip`,
      "Limited by",
      [
        ["clutches", "clutches, with preload"],
        ["helical", "helical gears"],
        ["viscous", "viscous coupling"],
      ],
      (p) => of(p)?.type === "limited_slip",
    ),
    figure(`${path}bias`, "Bias ratio", "2.5 is typical", (p) => is(p, "clutches", "helical")),
    {
      path: `${path}breakaway_nm`,
      label: "Breakaway torque at one wheel, N·m",
      type: "number",
      when: (p) => is(p, "clutches"),
    },
    {
      path: `${path}viscous_nm`,
      label: "Carried across at 100 rpm, N·m",
      type: "number",
      when: (p) => is(p, "viscous"),
    },
  ];
};

export const fieldsOf: Record<PartKind, Field[]> = {
  engine: [
    choice("axis", "It lies", [
      ["lengthwise", "lengthwise"],
      ["crosswise", "crosswise"],
      ["upright", "upright"],
    ]),
    { path: "torque_nm", label: "Greatest torque, N·m", type: "number" },
  ],
  clutch: [
    choice("type", "Type", [
      ["clutch", "clutch"],
      ["converter", "converter"],
    ]),
    figure("slip", "Slip while slipping (part of the speed)", "0.05 is typical", (p) => p.clutch?.type === "converter"),
  ],
  gearbox: [
    choice("arrangement", "Known as", [
      ["ratios", "a list of ratios"],
      ["countershaft", "countershaft teeth"],
      ["two_shaft", "two-shaft teeth"],
    ]),
    teeth("input", "Input gear", (p) => p.gearbox?.arrangement === "countershaft"),
    teeth("counter", "Countershaft gear on it", (p) => p.gearbox?.arrangement === "countershaft"),
  ],
  planetary: [
    teeth("sun", "Sun gear"),
    teeth("ring", "Ring gear"),
    teeth("planet", "One planet"),
    { path: "planets", label: "Number of planets", type: "teeth" },
    yes("paired", "Paired planets"),
    choice("input", "Driven", [
      ["sun", "sun"],
      ["ring", "ring"],
      ["carrier", "carrier"],
    ]),
    choice("output", "Drives on", [
      ["carrier", "carrier"],
      ["ring", "ring"],
      ["sun", "sun"],
    ]),
    choice("held", "Held", [
      ["ring", "ring"],
      ["sun", "sun"],
      ["carrier", "carrier"],
    ]),
    yes("two_speed", "Shifted: high locks it, low holds"),
  ],
  transfer_case: [
    choice("range.type", "Low range by", [
      ["none", "no low range"],
      ["planetary", "planetary set"],
      ["gears", "cluster gears"],
      ["ratio", "ratio only"],
    ]),
    teeth("range.sun", "Low: sun gear", (p) => p.transfer_case?.range?.type === "planetary"),
    teeth("range.ring", "Low: ring gear", (p) => p.transfer_case?.range?.type === "planetary"),
    teeth("range.input", "Input gear", (p) => p.transfer_case?.range?.type === "gears"),
    teeth("range.counter", "Cluster gear on it", (p) => p.transfer_case?.range?.type === "gears"),
    teeth("range.low_drive", "Cluster gear of low", (p) => p.transfer_case?.range?.type === "gears"),
    teeth("range.low_gear", "Low gear", (p) => p.transfer_case?.range?.type === "gears"),
    figure("range.low", "Low ratio", undefined, (p) => p.transfer_case?.range?.type === "ratio"),
    choice("center.type", "Rear and front", [
      ["part_time", "part-time: front locked in by hand"],
      ["open", "center differential"],
      ["limited_slip", "center differential, limited slip"],
      ["planetary", "planetary center, unequal shares"],
      ["solid", "always locked together"],
    ]),
    yes(
      "center.lockable",
      "Center can be locked",
      (p) => !["part_time", "solid"].includes(p.transfer_case?.center?.type ?? ""),
    ),
    yes(
      "center.rear_only",
      "Has a rear-only position",
      (p) =>
        p.transfer_case?.front?.type !== "none" &&
        !["part_time", "solid"].includes(p.transfer_case?.center?.type ?? ""),
    ),
    ...limitedSlip("center.", (p) => p.transfer_case?.center),
    teeth("center.ring", "Center: ring gear", (p) => p.transfer_case?.center?.type === "planetary"),
    teeth("center.sun", "Center: sun gear", (p) => p.transfer_case?.center?.type === "planetary"),
    choice("front.type", "Front output by", [
      ["chain", "chain"],
      ["gears", "gears"],
      ["ratio", "ratio only"],
      ["none", "no front output"],
    ]),
    teeth("front.drive", "Front: drive", (p) => ["chain", "gears"].includes(p.transfer_case?.front?.type ?? "")),
    teeth("front.driven", "Front: driven", (p) => ["chain", "gears"].includes(p.transfer_case?.front?.type ?? "")),
    {
      path: "front.idlers",
      label: "Idlers between",
      type: "teeth",
      when: (p) => p.transfer_case?.front?.type === "gears",
    },
    yes("low_needs_lock", "Low only with the front or center locked"),
  ],
  shaft: [],
  differential: [
    choice("type", "Type", [...diffTypes.slice(0, 3), ["planetary", "planetary, unequal shares"]]),
    ...limitedSlip("", (p) => p.differential),
    teeth("ring", "Ring gear", (p) => p.differential?.type === "planetary"),
    teeth("sun", "Sun gear", (p) => p.differential?.type === "planetary"),
  ],
  gear_pair: [
    teeth("drive", "Drive"),
    teeth("driven", "Driven"),
    choice("mesh", "By", [
      ["external", "gears"],
      ["chain", "chain"],
      ["internal", "internal gears"],
    ]),
    { path: "idlers", label: "Idlers between", type: "teeth" },
  ],
  axle: [
    teeth("ring", "Ring gear"),
    teeth("pinion", "Pinion"),
    figure("ratio", "Ratio, where teeth aren't known", undefined, (p) => !p.axle?.ring),
    choice("differential.type", "Differential", diffTypes),
    ...limitedSlip("differential.", (p) => p.axle?.differential),
    choice("ring_side", "Ring sits", [
      ["left", "left of the pinion"],
      ["right", "right of the pinion"],
    ]),
    choice("pinion_at", "Pinion", [
      ["ahead", "ahead of the axle"],
      ["behind", "behind the axle"],
    ]),
    yes("hypoid", "Hypoid: pinion passes the axle's line"),
    choice("cut", "Cut", [
      ["standard", "standard"],
      ["reverse", "reverse"],
      ["straight", "straight bevel"],
    ]),
    choice("gears", "Gears", [
      ["bevel", "bevel"],
      ["spur", "spur, crosswise"],
    ]),
    teeth("second.sun", "Second stage: sun", (p) => Boolean(p.axle?.second)),
    teeth("second.ring", "Second stage: ring", (p) => Boolean(p.axle?.second)),
    teeth("change.input", "Change gear on the input shaft", (p) => Boolean(p.axle?.change)),
    teeth("change.pinion", "Change gear on the pinion shaft", (p) => Boolean(p.axle?.change)),
    yes("free_hubs", "Hubs can be let go", (p) => !p.axle?.disconnect),
    choice(
      "disconnect",
      "A half shaft can be let go",
      [
        ["", "no"],
        ["left", "the left one"],
        ["right", "the right one"],
      ],
      (p) => !p.axle?.free_hubs,
    ),
    { path: "stub_nm", label: "One stub or joint is rated, N·m", type: "number" },
  ],
  hub: [
    choice("type", "Type", [
      ["planetary", "planetary"],
      ["portal", "portal gears"],
    ]),
    teeth("sun", "Sun gear", (p) => p.hub?.type !== "portal"),
    teeth("ring", "Ring gear", (p) => p.hub?.type !== "portal"),
    teeth("drive", "Drive gear", (p) => p.hub?.type === "portal"),
    teeth("driven", "Driven gear", (p) => p.hub?.type === "portal"),
    { path: "idlers", label: "Idlers between", type: "teeth", when: (p) => p.hub?.type === "portal" },
  ],
  wheel: [
    choice("at", "End", [
      ["front", "front"],
      ["rear", "rear"],
    ]),
    choice("side", "Side", [
      ["left", "left"],
      ["right", "right"],
    ]),
    figure("rolling_mm", "Rolling circumference, mm", "mark tire and floor, roll one turn loaded, measure"),
  ],
  upper: [
    teeth("pinion", "Pinion"),
    teeth("gear", "Gear"),
    yes("shift", "Shifts here: forward, neutral, reverse"),
    yes("gear_above", "Its gear sits above the pinion"),
  ],
  reverse_gear: [
    figure("ahead", "Ratio ahead"),
    figure("astern", "Ratio astern"),
    yes("opposite", "Ahead, the flange turns against the engine"),
  ],
  gearcase: [
    teeth("pinion", "Pinion"),
    teeth("gear", "Forward gear"),
    yes("shift", "Shifts here by a sliding clutch"),
    yes("twin", "Two propellers, opposite"),
    choice(
      "shift_by",
      "Shifted by",
      [
        ["", "not known"],
        ["turning", "a shaft that turns"],
        ["push_pull", "a rod, pushed and pulled"],
        ["sprung", "a rod against a spring"],
        ["lobe", "a lobe"],
      ],
      (p) => Boolean(p.gearcase?.shift),
    ),
    choice("forward", "Forward gear", [
      ["ahead", "ahead of the pinion"],
      ["behind", "behind the pinion"],
    ]),
  ],
  propeller: [
    { path: "pitch_in", label: "Pitch, inches", type: "number" },
    choice("hand", "Hand", [
      ["right", "right-hand"],
      ["left", "left-hand"],
    ]),
  ],
};

type Loose = Record<string, unknown>;

/** Reads a field of a part's own property. */
export function getField(p: Part, path: string): unknown {
  let v: unknown = (p as unknown as Loose)[p.kind];
  for (const k of path.split(".")) v = (v as Loose | undefined)?.[k];
  return v;
}

/** Sets a field; undefined takes it out. */
/** Takes out what belongs to another kind of limited slip than the part has now. */
export function tidy(p: Part): Part {
  return fieldsOf[p.kind]
    .filter((f) => /(^|\.)(slip|bias|breakaway_nm|viscous_nm|rear_only)$/.test(f.path) && f.when && !f.when(p))
    .reduce((q, f) => (getField(q, f.path) === undefined ? q : setField(q, f.path, undefined)), p);
}

export function setField(p: Part, path: string, value: unknown): Part {
  const put = (o: Loose | undefined, keys: string[]): Loose => {
    const [k = "", ...rest] = keys;
    const { [k]: old, ...others } = o ?? {};
    if (rest.length > 0) return { ...others, [k]: put(old as Loose | undefined, rest) };
    return value === undefined ? others : { ...others, [k]: value };
  };
  return { ...p, [p.kind]: put((p as unknown as Loose)[p.kind] as Loose | undefined, path.split(".")) } as Part;
}
