import type { Doc, Part } from "../api/client";

/** A length of shaft, drawn from end to end. */
export type Rod = {
  shaft: string;
  x1: number;
  y1: number;
  x2: number;
  y2: number;
  /** On a plan that was turned: its marks run the other way. */
  turned?: boolean;
};

/** A gear, wheel or flange on a shaft, seen from its side; along is the direction of its shaft. */
export type Disc = {
  shaft: string;
  along: "x" | "y";
  x: number;
  y: number;
  r: number;
  half: number;
  teeth: number;
  look: "gear" | "ring" | "wheel" | "flange" | "clutch" | "chain" | "prop";
  mesh?: string;
  /** A bevel gear: its small end lies toward more (1) or less (-1) along its shaft. */
  cone?: 1 | -1;
  turned?: boolean;
  /** A sleeve or dog: how far along its shaft it goes to engage each of these. */
  slide?: { mesh: string; by: number }[];
};

/** A wheel that nothing drives, drawn so that one sees where the front is. */
export type Idle = { x: number; y: number };

/** A place where power passes between shafts, for the power line. */
export type Jump = { mesh: string; x1: number; y1: number; x2: number; y2: number };

/** A housing behind the moving parts. */
export type Box = { part: string; x: number; y: number; w: number; h: number; round?: number };

/** Where a part's controls and name go. */
export type Spot = { part: string; x: number; y: number; side: "above" | "below" | "left" | "right" };

export type Plan = {
  rods: Rod[];
  discs: Disc[];
  jumps: Jump[];
  boxes: Box[];
  spots: Spot[];
  belts: Jump[];
  idle: Idle[];
  w: number;
  h: number;
  /** The front is up; else it lies at the left. */
  upright?: boolean;
};

/** The direction in which a shaft lies on the drawing. */
export type Along = "x" | "y";

/** Where a shaft arrives at the part that it drives; back if from the right, toward the front of a vehicle. */
export type At = { x: number; y: number; shaft: string; along: Along; back?: boolean };

/** What a part is drawn with: the driveline, the plan so far, and what comes behind. */
export type Pen = {
  d: Doc;
  plan: Plan;
  /** Draws a part and all behind it. */
  on(p: Part, at: At): void;
  /** Draws what an output feeds, or the flange of an open end. */
  next(p: Part, port: string, at: At): void;
};

/** The middle line of a vehicle seen from above, and how far out its wheels stand. */
export const middle = 250;
export const reach = 168;

export const gearR = (teeth: number | undefined, other: number | undefined, sum = 44) =>
  teeth && other ? Math.max(9, Math.min(sum - 9, (sum * teeth) / (teeth + other))) : sum / 2;

export function pairAt(
  plan: Plan,
  mesh: string,
  a: string,
  b: string,
  x: number,
  y: number,
  gap: number,
  za: number | undefined,
  zb: number | undefined,
  ra: number,
  rb: number,
  chain = false,
) {
  const look = chain ? "chain" : "gear";
  plan.discs.push(
    { shaft: a, along: "x", x, y, r: ra, half: 6, teeth: za || 20, look, mesh },
    { shaft: b, along: "x", x, y: y + gap, r: rb, half: 6, teeth: zb || 20, look, mesh },
  );
  plan.jumps.push({ mesh, x1: x, y1: y, x2: x, y2: y + gap });
  if (chain) plan.belts.push({ mesh, x1: x, y1: y - ra, x2: x, y2: y + gap + rb });
}

/** Spider gears between two outputs. */
export function spider(plan: Plan, mesh: string, x: number, y: number, sides: [string, string], along: Along) {
  const [a, b] = sides;
  const at = (k: number) => (along === "x" ? { x: x + k, y } : { x, y: y + k });
  plan.discs.push(
    { shaft: a, along, ...at(7), r: 9, half: 3, teeth: 10, look: "gear", mesh },
    { shaft: b, along, ...at(-7), r: 9, half: 3, teeth: 10, look: "gear", mesh },
  );
}

/** The flange at the end of a shaft. */
export const flange = (plan: Plan, { shaft, along, x, y }: At, r = 16) =>
  plan.discs.push({ shaft, along, x, y, r, half: 5, teeth: 0, look: "flange" });
