import type { Part } from "../../api/client";

/** One thing that can be known of a part; path leads to it within the part's own property. */
export type Field = {
  path: string;
  label: string;
  type: "teeth" | "figure" | "number" | "choice" | "yes";
  options?: { value: string; label: string }[];
  /** Shown only where this holds. */
  when?: (p: Part) => boolean;
  /** Goes where it no longer holds: it is another build's. */
  goes?: boolean;
  hint?: string;
};

export const teeth = (path: string, label: string, when?: Field["when"]): Field => ({
  path,
  label: `${label}, teeth`,
  type: "teeth",
  when,
});
export const figure = (path: string, label: string, hint?: string, when?: Field["when"]): Field => ({
  path,
  label,
  type: "figure",
  hint,
  when,
});
export const choice = (path: string, label: string, options: [string, string][], when?: Field["when"]): Field => ({
  path,
  label,
  type: "choice",
  options: options.map(([value, l]) => ({ value, label: l })),
  when,
});
export const yes = (path: string, label: string, when?: Field["when"]): Field => ({ path, label, type: "yes", when });

export const diffTypes: [string, string][] = [
  ["open", "open"],
  ["limited_slip", "limited slip"],
  ["locking", "locker"],
  ["spool", "spool"],
];

/** What makes a differential stiff between its sides, where it is a limited slip. */
export const limitedSlip = (path: string, of: (p: Part) => { type?: string; slip?: string } | undefined): Field[] => {
  const is = (p: Part, ...kinds: string[]) =>
    of(p)?.type === "limited_slip" && kinds.includes(of(p)?.slip ?? "clutches");
  const list: Field[] = [
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
  return list.map((x) => ({ ...x, goes: true }));
};

type Loose = Record<string, unknown>;

/** Reads a field of a part's own property. */
export function getField(p: Part, path: string): unknown {
  let v: unknown = (p as unknown as Loose)[p.kind];
  for (const k of path.split(".")) v = (v as Loose | undefined)?.[k];
  return v;
}

/** Sets a field; undefined takes it out. */
export function setField(p: Part, path: string, value: unknown): Part {
  const put = (o: Loose | undefined, keys: string[]): Loose => {
    const [k = "", ...rest] = keys;
    const { [k]: old, ...others } = o ?? {};
    if (rest.length > 0) return { ...others, [k]: put(old as Loose | undefined, rest) };
    return value === undefined ? others : { ...others, [k]: value };
  };
  return { ...p, [p.kind]: put((p as unknown as Loose)[p.kind] as Loose | undefined, path.split(".")) } as Part;
}
