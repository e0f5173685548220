import { api, type GearcaseBacklash, type GearcaseRequest, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { number } from "../tire/model";

export type Place = { id: string; name: string; nominal: string; thicker: string; tol: string };
export type Assembly = {
  shim: string;
  readings: string /** What looked like another unit was checked again. */;
  sure?: boolean;
};
export type Play = {
  teeth: string;
  mate: string;
  spiral: string;
  thicker: string;
  arm: string;
  pitch: string;
  low: string;
  high: string;
  repeat: string;
  /** What every length is in: mm, or in. */
  unit?: "mm" | "in";
  assemblies: Assembly[];
};

/** Everything that was typed at the bench; text until the server reads it. */
export type Form = {
  stamp: string;
  unit: string;
  convention: string;
  places: Place[];
  box: string;
  most: string;
  /** What counts first where the box can't serve all gears. */
  by: string;
  /** A second stamp, on the gears themselves. */
  gearStamp: string;
  sure: boolean;
  gear: "forward" | "reverse";
  forward: Play;
  reverse: Play;
  finds: Record<string, string>;
  seals: string;
};

const noAssembly: Assembly = { shim: "", readings: "" };
const noPlay: Play = {
  teeth: "",
  mate: "",
  spiral: "",
  thicker: "",
  arm: "",
  pitch: "",
  low: "",
  high: "",
  repeat: "",
  assemblies: [noAssembly],
};

export const noForm: Form = {
  stamp: "",
  unit: "",
  convention: "",
  places: [
    { id: "P", name: "Pinion", nominal: "", thicker: "", tol: "" },
    { id: "F", name: "Forward gear", nominal: "", thicker: "", tol: "" },
    { id: "R", name: "Reverse gear", nominal: "", thicker: "", tol: "" },
  ],
  box: "",
  most: "4",
  by: "",
  gearStamp: "",
  sure: false,
  gear: "forward",
  forward: noPlay,
  reverse: noPlay,
  finds: {},
  seals: "",
};

/** The same for a person who measures in inches. */
export const inInches: Form = {
  ...noForm,
  forward: { ...noPlay, unit: "in" },
  reverse: { ...noPlay, unit: "in" },
};

export function shimsOf(f: Form): GearcaseRequest {
  return {
    stamp: f.stamp,
    unit: f.unit || undefined,
    convention: f.convention || undefined,
    places: f.places.map((p) => ({
      id: p.id,
      name: p.name,
      nominal_mm: number(p.nominal) ?? 0,
      thicker: p.thicker,
      tol_mm: number(p.tol),
    })),
    box: f.box.trim() || undefined,
    most_pieces: number(f.most),
    by: f.by || undefined,
    gear_stamp: f.gearStamp?.trim() || undefined,
    sure: f.sure || undefined,
  };
}

export const useShims = (f: Form, ready: boolean) =>
  useCalc(key.shims, shimsOf(f), (body, signal) => take(api.POST("/calc/shims", { body, signal })), { ready });

/** A recorded question back in the fields. */
export function formOf(q: GearcaseRequest): Partial<Form> {
  const say = (v?: number) => (v === undefined ? "" : String(v));
  return {
    stamp: q.stamp,
    unit: q.unit ?? "",
    convention: q.convention ?? "",
    places: q.places.map((p) => ({
      id: p.id,
      name: p.name,
      nominal: say(p.nominal_mm),
      thicker: p.thicker,
      tol: say(p.tol_mm),
    })),
    box: q.box ?? "",
    most: say(q.most_pieces) || "4",
    by: q.by ?? "",
    gearStamp: q.gear_stamp ?? "",
  };
}

/** A recorded measurement back in the fields. */
export function playFrom(q: GearcaseBacklash): Play {
  const say = (v?: number) => (v === undefined || v === 0 ? "" : String(v));
  const unit = q.unit === "in" ? "in" : "mm";
  const length = (v?: number) => (v === undefined || v === 0 ? "" : inUnit(v, unit));
  return {
    teeth: say(q.mesh.teeth),
    mate: say(q.mesh.mate),
    spiral: say(q.mesh.spiral_deg),
    thicker: q.thicker,
    arm: length(q.arm_mm),
    pitch: length(q.pitch_mm),
    low: length(q.low_mm),
    high: length(q.high_mm),
    repeat: length(q.repeat_mm),
    unit,
    assemblies: q.assemblies.map((a) => ({
      shim: a.pieces_mm?.map((p) => inUnit(p, unit)).join(" + ") ?? inUnit(a.shim_mm, unit),
      sure: a.sure,
      readings: a.readings_mm.map((r) => inUnit(r, unit)).join(" "),
    })),
  };
}

/** A length as it is written in a unit. */
export const inUnit = (mm: number, unit: "mm" | "in" = "mm") =>
  unit === "in" ? String(Math.round((mm / 25.4) * 1e5) / 1e5) : String(mm);

/** Reads lengths that were typed in a unit, mm. */
const lengths = (unit: "mm" | "in" = "mm") => {
  const length = (s: string) => {
    const v = number(s);
    return v === undefined || unit === "mm" ? v : Math.round(v * 25.4 * 1e6) / 1e6;
  };
  return length;
};

const readingsOf = (s: string, length: (s: string) => number | undefined) =>
  s
    .trim()
    .split(/[\s;]+/)
    .filter(Boolean)
    .map((t) => length(t) ?? -1);

/** The shims that are in it: "0.80", or their pieces as "0.50 + 0.30", which go back into the box. */
function shimOf(s: string, length: (s: string) => number | undefined): { shim_mm: number; pieces_mm?: number[] } {
  if (!s.includes("+")) return { shim_mm: length(s) ?? -1 };
  const pieces = s.split("+").map((t) => length(t) ?? -1);
  return { shim_mm: Math.round(pieces.reduce((a, b) => a + b, 0) * 1e4) / 1e4, pieces_mm: pieces };
}

export function playOf(f: Form, teeth?: { gear?: number; pinion?: number }): GearcaseBacklash {
  const p = f[f.gear];
  const length = lengths(p.unit);
  return {
    gear: `${f.gear} gear`,
    unit: p.unit === "in" ? "in" : undefined,
    mesh: {
      teeth: number(p.teeth) ?? teeth?.gear ?? 0,
      mate: number(p.mate) ?? teeth?.pinion ?? 0,
      spiral_deg: number(p.spiral),
    },
    thicker: p.thicker || f.places.find((x) => x.id === (f.gear === "forward" ? "F" : "R"))?.thicker || "",
    arm_mm: length(p.arm),
    pitch_mm: length(p.pitch),
    low_mm: length(p.low) ?? 0,
    high_mm: length(p.high) ?? 0,
    repeat_mm: length(p.repeat),
    assemblies: p.assemblies
      .filter((a) => a.shim.trim() || a.readings.trim())
      .map((a) => ({
        ...shimOf(a.shim, length),
        readings_mm: readingsOf(a.readings, length),
        sure: a.sure || undefined,
      })),
    box: f.box.trim() || undefined,
    most_pieces: number(f.most),
  };
}

export const usePlay = (q: GearcaseBacklash, ready: boolean) =>
  useCalc(key.gearcase, q, (body, signal) => take(api.POST("/calc/gearcase", { body, signal })), { ready });
