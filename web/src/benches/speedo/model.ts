import { api, type Doc, type SpeedoRequest, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { kmPerMile, toKM, toKMH, typed, type Units } from "../../format/numbers";
import { figure, noTire, number, type TireForm, tireOf } from "../tire/model";

export type Run = { shown: string; distance: string; seconds: string };
export type Noted = { time: string; shown: string };
export type Method = "stopwatch" | "odometer" | "track";

/** Everything that was typed at the speedometer; text until the server reads it. */
export type SpeedoForm = {
  tire: TireForm;
  takeOff: string;
  axle: string;
  /** What it read right on, before axle or tire were changed. */
  axleBefore?: string;
  tireBefore?: string;
  family: string;
  constant: string;
  per: "mile" | "km";
  drive: string;
  driven: string;
  drives: string;
  drivens: string;
  reluctor: string;
  calibrated: string;
  calPer: "mile" | "km";
  /** A pulse unit that is turned by a driven gear. */
  pickupDrive?: string;
  pickupDriven?: string;
  /** A tool that takes only listed ratios and tire sizes in steps. */
  toolRatios?: string;
  toolFrom?: string;
  toolTo?: string;
  toolStep?: string;
  toolUnit?: "inch" | "mm";
  method: Method;
  runs: Run[];
  shown: string;
  actual: string;
  step: string;
  sure: string;
  noted: Noted[];
  economy: string;
  range: string;
  odoThen: string;
  odoToday: string;
};
/** What the panels of the bench share. */
export type PanelProps = {
  form: SpeedoForm;
  set: (v: Partial<SpeedoForm>) => void;
  unit?: number;
  name: string;
};

const noRun: Run = { shown: "", distance: "", seconds: "" };
const noNoted: Noted = { time: "", shown: "" };
export const noForm: SpeedoForm = {
  tire: noTire,
  takeOff: "",
  axle: "",
  family: "",
  constant: "",
  per: "mile",
  drive: "",
  driven: "",
  drives: "",
  drivens: "",
  reluctor: "",
  calibrated: "",
  calPer: "km",
  method: "stopwatch",
  runs: [noRun],
  shown: "",
  actual: "",
  step: "",
  sure: "",
  noted: [noNoted],
  economy: "",
  range: "",
  odoThen: "",
  odoToday: "",
};

const whole = (s: string) => {
  const v = typed(s);
  return v === undefined ? undefined : Number.isInteger(v) ? v : -1;
};

/** Tooth counts as typed: "6 7 8" or "15-28". */
function teeth(s: string): { teeth: number }[] | undefined {
  const out = s
    .trim()
    .split(/[\s,;]+/)
    .filter(Boolean)
    .flatMap((w) => {
      const m = /^(\d{1,3})[-–](\d{1,3})$/.exec(w);
      if (!m) return [{ teeth: /^\d{1,3}$/.test(w) ? Number(w) : 0 }];
      const [from, to] = [Number(m[1]), Number(m[2])];
      return Array.from({ length: Math.max(1, Math.min(to, from + 99) - from + 1) }, (_, i) => ({ teeth: from + i }));
    });
  return out.length > 0 ? out : undefined;
}

/** The tire, and the shaft that the speedometer is driven from. */
export function baseOf(f: SpeedoForm, doc: Doc | undefined, units: Units): SpeedoRequest {
  const t = tireOf(f.tire, units);
  return {
    use_shop: true,
    tire: Object.values(t).some((v) => v !== undefined) ? t : undefined,
    ...(doc
      ? { driveline: doc, take_off: f.takeOff || undefined }
      : { axle: figure(f.axle.replace(/\s*[:x-]\s*/, "/")) }),
  };
}

export function gearsOf(f: SpeedoForm, base: SpeedoRequest, units: Units): SpeedoRequest {
  const before = Boolean(f.axleBefore?.trim() || f.tireBefore?.trim());
  return {
    ...base,
    family: f.family.trim() || undefined,
    before: before
      ? {
          axle: figure((f.axleBefore ?? "").replace(/\s*[:x-]\s*/, "/")),
          tire: f.tireBefore?.trim() ? { marking: f.tireBefore.trim() } : undefined,
        }
      : undefined,
    mechanical: {
      constant: before ? undefined : figure(f.constant),
      per: f.per,
      drives: teeth(f.drives),
      driven: teeth(f.drivens),
      // Typed gears aren't the shop's, so neither are their housings.
      housings: f.drivens.trim() ? [] : undefined,
      fitted_drive: whole(f.drive),
      fitted_driven: whole(f.driven),
      speeds_kmh: (units === "inch" ? [30, 50, 70] : [50, 80, 110]).map((v) => toKMH(v, units)),
    },
  };
}

export function pulsesOf(f: SpeedoForm, base: SpeedoRequest): SpeedoRequest {
  return {
    ...base,
    electronic: {
      reluctor: whole(f.reluctor) ?? 0,
      calibrated: figure(f.calibrated),
      per: f.calPer,
      drive: whole(f.pickupDrive ?? ""),
      driven: whole(f.pickupDriven ?? ""),
      tool: f.toolRatios?.trim()
        ? {
            ratios: f.toolRatios
              .trim()
              .split(/[\s;]+/)
              .map((r) => figure(r) ?? ""),
            from: figure(f.toolFrom ?? "") ?? "0",
            to: figure(f.toolTo ?? "") ?? "0",
            step: figure(f.toolStep ?? "") ?? "1",
            unit: f.toolUnit ?? "inch",
          }
        : undefined,
    },
  };
}

/** Pulses per km that were in it, however they were typed. */
export function pulsesInIt(f: SpeedoForm): string | undefined {
  if (f.calPer === "km") return figure(f.calibrated);
  const v = typed(f.calibrated);
  return v === undefined || Number.isNaN(v) ? figure(f.calibrated) : String(Math.round((v / kmPerMile) * 1e6) / 1e6);
}

/** Liters per 100 km from what was typed; miles a US gallon where miles are preferred. */
const consumption = (s: string, units: Units) =>
  number(s, (v) => (units === "inch" ? (v > 0 ? milesPerGallon(v) : -1) : v));

/** 235.214583 ÷ one is the other: a US gallon is 3.785411784 l, a mile 1.609344 km. */
export const milesPerGallon = (v: number) => 378.5411784 / kmPerMile / v;

const km = (s: string, units: Units) => {
  const v = typed(s);
  return v === undefined || Number.isNaN(v) ? figure(s) : String(toKM(v, units));
};

export function checkOf(f: SpeedoForm, units: Units): SpeedoRequest {
  const kmh = (s: string) => number(s, (v) => toKMH(v, units)) ?? 0;
  const runs = f.runs.filter((r) => r.shown.trim() || r.distance.trim() || r.seconds.trim());
  const noted = f.noted.filter((n) => n.time.trim() || n.shown.trim());
  const pair = whole(f.drive) && whole(f.driven);
  return {
    verify: {
      method: f.method,
      ...(f.method === "stopwatch"
        ? {
            runs: runs.map((r) => ({
              shown_kmh: kmh(r.shown),
              meters: number(r.distance) ?? 0,
              seconds: number(r.seconds) ?? 0,
            })),
          }
        : {
            shown_km: km(f.shown, units),
            step_km: number(f.step, (v) => toKM(v, units)),
          }),
      ...(f.method === "odometer" ? { true_km: km(f.actual, units), true_percent: number(f.sure) } : {}),
      ...(f.method === "track" ? { noted: noted.map((n) => ({ time: n.time.trim(), shown_kmh: kmh(n.shown) })) } : {}),
      calibrated: pulsesInIt(f),
      ...(pair ? { drive: whole(f.drive), driven: whole(f.driven) } : {}),
      l_per_100km: consumption(f.economy, units),
      range_km: number(f.range, (v) => toKM(v, units)),
      odometer_then: km(f.odoThen, units),
      odometer_today: km(f.odoToday, units),
    },
  };
}

/** A GPX file that was chosen. */
export type Track = { id: number; name: string; text: string };
export const noTrack: Track = { id: 0, name: "", text: "" };

export function withTrack(q: SpeedoRequest, track?: Track): SpeedoRequest {
  return q.verify?.method === "track" ? { ...q, verify: { ...q.verify, gpx: track?.text } } : q;
}

/** The answer; the last good one stays while another is asked. */
export function useSpeedo(request: SpeedoRequest, ready: boolean, track?: Track) {
  // A track is long: it is told apart by its number.
  return useCalc(
    key.speedometer,
    request,
    (q, signal) => take(api.POST("/calc/speedometer", { body: withTrack(q, track), signal })),
    {
      ready,
      about: track?.id,
    },
  );
}
