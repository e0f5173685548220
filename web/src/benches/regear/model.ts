import { api, type Doc, type RegearRequest, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { toKMH, type Units } from "../../format/numbers";
import { figure, noTire, number, type TireForm, tireOf } from "../tire/model";

export type PlainForm = { gears: string; low: string; rear: string; front: string; center: string; typical: string };
export type RegearForm = {
  old: TireForm;
  fresh: TireForm;
  use: string;
  kmh: string;
  gear: string;
  low: string;
  high: string;
  shift: string;
  idle: string;
  crawl: string;
  launch: string;
  torque: string;
  rearFamily: string;
  frontFamily: string;
  rearType: string;
  frontType: string;
  caseFamily: string;
  carrierFrom: string;
  carrierTo: string;
  stockRatio: string;
  stockTire: string;
  rearFixed: boolean;
  frontFixed: boolean;
  nextCenter: string;
  chosen: string;
  plain: PlainForm;
};
export const noForm: RegearForm = {
  old: noTire,
  fresh: noTire,
  use: "mixed",
  kmh: "",
  gear: "",
  low: "",
  high: "",
  shift: "",
  idle: "",
  crawl: "",
  launch: "",
  torque: "",
  rearFamily: "",
  frontFamily: "",
  rearType: "solid",
  frontType: "solid",
  caseFamily: "",
  carrierFrom: "",
  carrierTo: "",
  stockRatio: "",
  stockTire: "",
  rearFixed: false,
  frontFixed: false,
  nextCenter: "",
  chosen: "",
  plain: { gears: "", low: "", rear: "", front: "", center: "part_time", typical: "" },
};

const pair = (s: string) => {
  const m = /^\s*(\d+)\s*[/:\-x]\s*(\d+)\s*$/.exec(s);
  return m ? { ring: Number(m[1]), pinion: Number(m[2]) } : { ratio: figure(s) };
};

/** Speeds for the tables and curves, round in the person's own unit. */
const speeds = (units: Units) =>
  Array.from({ length: units === "inch" ? 9 : 14 }, (_, i) => toKMH((i + 1) * 10, units));

export function requestOf(f: RegearForm, doc: Doc | undefined, units: Units): RegearRequest {
  const kmh = (s: string) => number(s, (v) => toKMH(v, units));
  const torque = f.torque
    .split(/[;,\n]/)
    .map((p) => p.trim().split(/[\s:]+/))
    .filter((p) => p[0])
    .map(([rpm, nm]) => ({ rpm: number(rpm ?? "") ?? -1, nm: number(nm ?? "") ?? -1 }));
  const old = tireOf(f.old, units);
  const carrier =
    f.carrierFrom.trim() && f.carrierTo.trim()
      ? { from: figure(f.carrierFrom) ?? "", to: figure(f.carrierTo) ?? "" }
      : undefined;
  const gears = f.plain.gears
    .trim()
    .split(/[\s;]+/)
    .filter(Boolean);
  const stock =
    f.stockRatio.trim() || f.stockTire.trim()
      ? { ratio: figure(f.stockRatio), tire: f.stockTire.trim() ? { marking: f.stockTire.trim() } : undefined }
      : undefined;
  return {
    use_shop: true,
    ...(doc
      ? { driveline: doc }
      : {
          plain: {
            typical: f.plain.typical || undefined,
            gears: gears.map((r, i) => ({ name: r.startsWith("-") ? "R" : String(i + 1), ratio: figure(r) ?? "" })),
            ranges: f.plain.low.trim()
              ? [
                  { name: "high", ratio: "1" },
                  { name: "low", ratio: figure(f.plain.low) ?? "" },
                ]
              : undefined,
            rear: f.plain.rear.trim() ? pair(f.plain.rear) : undefined,
            front: f.plain.front.trim() ? pair(f.plain.front) : undefined,
            center: f.plain.center,
          },
        }),
    old_tire: Object.values(old).some((v) => v !== undefined) ? old : undefined,
    new_tire: tireOf(f.fresh, units),
    stock,
    use: f.use,
    cruise: { kmh: kmh(f.kmh), gear: f.gear || undefined, low_rpm: number(f.low), high_rpm: number(f.high) },
    shift_rpm: number(f.shift),
    idle_rpm: number(f.idle),
    crawl_kmh: kmh(f.crawl),
    launch_percent: number(f.launch),
    torque: torque.length > 0 ? torque : undefined,
    speeds_kmh: speeds(units),
    speed_unit: units === "inch" ? "mph" : "km/h",
    rear: { family: f.rearFamily || undefined, type: f.rearType, carrier, fixed: f.rearFixed || undefined },
    front: { family: f.frontFamily || undefined, type: f.frontType, fixed: f.frontFixed || undefined },
    case_family: f.caseFamily || undefined,
    next_center: f.nextCenter || undefined,
    chosen: f.chosen || undefined,
  };
}

/** Kinds of gearbox whose usual ratios can stand in for typed ones. */
export const gearboxes = [
  { value: "", label: "typed below" },
  { value: "manual_4", label: "typical 4-speed manual (truck)" },
  { value: "manual_5", label: "typical 5-speed manual" },
  { value: "manual_6", label: "typical 6-speed manual" },
  { value: "automatic_3", label: "typical 3-speed automatic" },
  { value: "automatic_4", label: "typical 4-speed automatic" },
  { value: "automatic_6", label: "typical 6-speed automatic" },
  { value: "automatic_8", label: "typical 8-speed automatic" },
];

/** The plan for a question; the last good one stays while another is asked. */
export function usePlan(request: RegearRequest, ready: boolean) {
  const { answer, refused, error } = useCalc(
    key.regear,
    request,
    (q, signal) => take(api.POST("/calc/regear", { body: q, signal })),
    {
      ready,
    },
  );
  return { plan: answer, refused, error };
}
