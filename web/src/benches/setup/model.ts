import {
  api,
  type SetupAxle,
  type SetupFigure,
  type SetupMade,
  type SetupQuestion,
  type SetupSpot,
  take,
} from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { number } from "../tire/model";

/** One assembly as it is typed. */
export type Trial = {
  pinion: string;
  left: string;
  right: string;
  spacer: string;
  pinion_torque: string;
  total_torque: string;
  backlash: string;
  back_face: string;
  depth: string;
  drive?: SetupSpot;
  coast?: SetupSpot;
  mark: string;
  sure: boolean;
};

export type Form = {
  family: string;
  unit: string;
  ring: string;
  pinion: string;
  pressure: string;
  spiral: string;
  /** The maker's backlash, least and most, where it is typed here. */
  lash_low: string;
  lash_high: string;
  ring_side: string;
  pinion_thicker: string;
  bearings: string;
  spacing: string;
  depth_mark: string;
  seal_drag: string;
  arm: string;
  pitch: string;
  repeat: string;
  box: string;
  most: string;
  figures: SetupFigure[];
  trials: Trial[];
};

export const noTrial: Trial = {
  pinion: "",
  left: "",
  right: "",
  spacer: "",
  pinion_torque: "",
  total_torque: "",
  backlash: "",
  back_face: "",
  depth: "",
  mark: "whole",
  sure: false,
};

export const noForm: Form = {
  family: "",
  unit: "mm",
  ring: "",
  pinion: "",
  pressure: "",
  spiral: "",
  lash_low: "",
  lash_high: "",
  ring_side: "",
  pinion_thicker: "",
  bearings: "new",
  spacing: "shims",
  depth_mark: "",
  seal_drag: "",
  arm: "",
  pitch: "",
  repeat: "",
  box: "",
  most: "4",
  figures: [],
  trials: [noTrial],
};

const some = (s: string) => s.trim() || undefined;

export function axleOf(f: Form, part?: string): SetupAxle {
  return {
    family: some(f.family),
    part,
    unit: f.unit,
    ring: number(f.ring) ?? 0,
    pinion: number(f.pinion) ?? 0,
    pressure_deg: number(f.pressure),
    spiral_deg: number(f.spiral),
    ring_side: some(f.ring_side),
    pinion_thicker: some(f.pinion_thicker),
    bearings: f.bearings,
    spacing: f.spacing,
    depth_mark: some(f.depth_mark),
    seal_drag: some(f.seal_drag),
    arm_mm: number(f.arm),
    pitch_mm: number(f.pitch),
    repeat_mm: number(f.repeat),
    box: some(f.box),
    most_pieces: number(f.most),
    figures: [...lashOf(f), ...f.figures],
    trials: f.trials.map(
      (t): SetupMade => ({
        pinion: some(t.pinion),
        left: some(t.left),
        right: some(t.right),
        spacer: some(t.spacer),
        pinion_torque: some(t.pinion_torque),
        total_torque: some(t.total_torque),
        backlash: some(t.backlash),
        back_face: some(t.back_face),
        depth: some(t.depth),
        drive: t.drive,
        coast: t.coast,
        mark: t.mark,
        sure: t.sure || undefined,
      }),
    ),
  };
}

/** The backlash that the first fields hold, as a figure. */
const lashOf = (f: Form): SetupFigure[] =>
  f.lash_low.trim() || f.lash_high.trim()
    ? [{ figure: "backlash", low: number(f.lash_low), high: number(f.lash_high), unit: f.unit }]
    : [];

/** A backlash without a source, in the form's own unit, goes back into the first fields. */
const isFirst = (f: SetupFigure, unit: string) => f.figure === "backlash" && !f.source && f.unit === unit;

const say = (v?: number) => (v ? String(v) : "");

/** A recorded question back in the fields. */
export function formOf(q: SetupAxle): Form {
  const unit = q.unit ?? "mm";
  const first = q.figures?.find((f) => isFirst(f, unit));
  return {
    family: q.family ?? "",
    unit,
    lash_low: say(first?.low),
    lash_high: say(first?.high),
    ring: say(q.ring),
    pinion: say(q.pinion),
    pressure: say(q.pressure_deg),
    spiral: say(q.spiral_deg),
    ring_side: q.ring_side ?? "",
    pinion_thicker: q.pinion_thicker ?? "",
    bearings: q.bearings ?? "new",
    spacing: q.spacing ?? "shims",
    depth_mark: q.depth_mark ?? "",
    seal_drag: q.seal_drag ?? "",
    arm: say(q.arm_mm),
    pitch: say(q.pitch_mm),
    repeat: say(q.repeat_mm),
    box: q.box ?? "",
    most: say(q.most_pieces) || "4",
    figures: (q.figures ?? []).filter((f) => f !== first),
    trials: q.trials.map((t) => ({
      ...noTrial,
      ...Object.fromEntries(Object.entries(t).filter(([, v]) => v !== undefined && v !== null)),
    })),
  };
}

export const askSetup = (body: SetupQuestion, signal: AbortSignal) => take(api.POST("/calc/setup", { body, signal }));

export const useSetUp = (axle: SetupAxle, ready: boolean) => useCalc(key.setup, { axle }, askSetup, { ready });

/** A stack as it is typed: its pieces. */
export const piecesText = (pieces: number[], total: number) => (pieces.length > 0 ? pieces.join(" + ") : String(total));
