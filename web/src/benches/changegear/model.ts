import { api, type ChangeGearsEvent, type ChangeGearsRequest, type Doc, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { speedUnit, toKMH, typed, type Units } from "../../format/numbers";
import { figure, noTire, number, type TireForm, tireOf } from "../tire/model";

export type GoalKind = NonNullable<ChangeGearsRequest["goal"]>["kind"];

/** Everything that was typed at the bench; text until the server reads it. */
export type Form = {
  tire: TireForm;
  growth: string;
  base: string;
  gears: string;
  shelf: string;
  input: string;
  pinion: string;
  rpm: string;
  torque: string;
  goal: GoalKind;
  kmh: string;
  goalRPM: string;
  gear: string;
  lowKMH: string;
  lowRPM: string;
  toward: "shorter" | "taller";
  mounting: string;
  ringSide: string;
  pinionAt: string;
  spin: string;
  hypoid: string;
  event: Event;
  limiter: string;
  wanted: string;
  columns: Record<string, string>;
  order: Record<string, string>;
};

export type Event = {
  track: string;
  session: string;
  set: string;
  input: string;
  pinion: string;
  outInput: string;
  outPinion: string;
  sure: boolean;
  tire: string;
  gear: string;
  rpm: string;
  kmh: string;
  weather: string;
  words: string;
};

export const noEvent: Event = {
  track: "",
  session: "",
  set: "",
  input: "",
  pinion: "",
  outInput: "",
  outPinion: "",
  sure: false,
  tire: "",
  gear: "",
  rpm: "",
  kmh: "",
  weather: "",
  words: "",
};

export const noForm: Form = {
  tire: noTire,
  growth: "",
  base: "",
  gears: "",
  shelf: "",
  input: "",
  pinion: "",
  rpm: "",
  torque: "",
  goal: "speed",
  kmh: "",
  goalRPM: "",
  gear: "",
  lowKMH: "",
  lowRPM: "",
  toward: "shorter",
  mounting: "",
  ringSide: "",
  pinionAt: "",
  spin: "",
  hypoid: "",
  event: noEvent,
  limiter: "",
  wanted: "",
  columns: {},
  order: {},
};

/** Teeth as they were typed; what can't be a count is refused at its field. */
const teeth = (s: string) => {
  const v = typed(s);
  return v === undefined ? undefined : Number.isInteger(v) ? v : -1;
};

export const pairOf = (input: string, pinion: string) => {
  const [i, p] = [teeth(input), teeth(pinion)];
  return i === undefined && p === undefined ? undefined : { input: i ?? 0, pinion: p ?? 0 };
};

/** Sets as they are typed without a shop: 24-21, 23-22 … */
const setsOf = (s: string) =>
  s
    .split(/[,;\n]+/)
    .map((t) => t.trim())
    .filter(Boolean)
    .map((t, i) => {
      const two = t
        .split(/[^0-9]+/)
        .filter(Boolean)
        .map(Number);
      return { id: String(i + 1), name: String(i + 1), teeth: [two[0] ?? 0, two[1] ?? 0] as [number, number] };
    });

const gearsOf = (s: string) =>
  s
    .split(/[;\s]+/)
    .filter(Boolean)
    .map((t, i) => ({ name: String(i + 1), ratio: t.replace(",", ".") }));

/** The question without its goal: what is there. */
export function baseOf(f: Form, units: Units, doc?: Doc): ChangeGearsRequest {
  const kmh = (s: string) => number(s, (v) => toKMH(v, units));
  const lies = {
    mounting: f.mounting || undefined,
    ring_side: f.ringSide || undefined,
    pinion_at: f.pinionAt || undefined,
    spin: f.spin || undefined,
    hypoid: f.hypoid ? f.hypoid === "yes" : undefined,
  };
  const tired = f.tire.marking.trim() || f.tire.rollout.trim() || f.tire.revs.trim();
  return {
    driveline: doc,
    base: doc ? undefined : figure(f.base),
    gears: doc ? undefined : gearsOf(f.gears),
    tire: tired ? tireOf(f.tire, units) : undefined,
    growth_percent: number(f.growth),
    rpm: number(f.rpm),
    torque_nm: number(f.torque),
    fitted: pairOf(f.input, f.pinion),
    shelf: doc || !f.shelf.trim() ? undefined : setsOf(f.shelf),
    use_shop: true,
    lies: Object.values(lies).some((v) => v !== undefined) ? lies : undefined,
    goal: goalOf(f, kmh),
    speed_unit: speedUnit(units),
  };
}

function goalOf(f: Form, kmh: (s: string) => number | undefined): ChangeGearsRequest["goal"] {
  const gear = f.gear || undefined;
  const there = f.kmh.trim() && f.goalRPM.trim();
  if (f.goal === "step") return { kind: "step", toward: f.toward, gear };
  if (!there) return undefined;
  const goal = { kind: f.goal, kmh: kmh(f.kmh), rpm: number(f.goalRPM), gear };
  if (f.goal !== "gear") return goal;
  return f.lowKMH.trim() && f.lowRPM.trim()
    ? { ...goal, low_kmh: kmh(f.lowKMH), low_rpm: number(f.lowRPM) }
    : undefined;
}

export const useChangeGears = (q: ChangeGearsRequest, ready: boolean) =>
  useCalc(key.changeGears, q, (body, signal) => take(api.POST("/calc/change-gears", { body, signal })), { ready });

export function eventOf(e: Event, units: Units): ChangeGearsEvent {
  const before = pairOf(e.outInput, e.outPinion);
  return {
    track: e.track.trim(),
    session: e.session.trim() || undefined,
    set: e.set.trim() || undefined,
    before,
    after: pairOf(e.input, e.pinion) ?? { input: 0, pinion: 0 },
    sure: e.sure || undefined,
    tire: e.tire.trim() || undefined,
    gear: e.gear || undefined,
    peak_rpm: number(e.rpm),
    peak_kmh: number(e.kmh, (v) => toKMH(v, units)),
    weather: e.weather.trim() || undefined,
    words: e.words.trim() || undefined,
  };
}
