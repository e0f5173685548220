import { Button, FileButton, SegmentedControl } from "@mantine/core";
import { IconPlayerPlay, IconPlayerStop, IconPlus, IconRoute } from "@tabler/icons-react";
import { lazy, Suspense, useEffect, useState } from "react";
import type { Refused, SpeedoRequest, SpeedoVerified } from "../../api/client";
import { useMaySave } from "../../app/session";
import { useUnits } from "../../app/units";
import { Waiting } from "../../app/Waiting";
import { bind } from "../../form/bind";
import { change, distanceUnit, fixed, fromKM, speedUnit, typed, type Units } from "../../format/numbers";
import { AnswerPlate } from "../answer";
import { useDecide } from "../useDecide";
import {
  type Track as Chosen,
  checkOf,
  type Method,
  milesPerGallon,
  type Noted,
  type PanelProps,
  type Run,
  type SpeedoForm,
  useSpeedo,
  withTrack,
} from "./model";
import classes from "./speedo.module.css";

const TrackPlot = lazy(() => import("./TrackPlot").then((m) => ({ default: m.TrackPlot })));

const none: never[] = [];

type Verify = NonNullable<SpeedoRequest["verify"]>;

type Props = PanelProps & { gpx: Chosen; setGPX: (v: Chosen) => void };

const levels: Record<string, string> = {
  true: "✓ true, as far as this check can tell",
  high: "▲ reads high",
  low: "▼ reads low",
  unsure: "? this check can't tell",
};

/** How true the speedometer is on the road, and what corrects it. */
export function CheckPanel({ form: f, set, unit, name, gpx, setGPX }: Props) {
  const [units] = useUnits();
  const maySave = useMaySave();
  const missing = missingOf(f, Boolean(gpx.text));
  const ready = missing[f.method].every((m) => m === false);
  const request = checkOf(f, units);
  const { answer, refused, error } = useSpeedo(request, ready, gpx);
  const v = answer?.verified;
  const b = bind<SpeedoForm, Verify>(f, set, refused, { at: "/verify", numeric: true });
  const record = useDecide(unit);
  const far = distanceUnit(units);
  return (
    <div className="stack">
      <div className="no-print stack">
        <SegmentedControl
          aria-label="Method"
          value={f.method}
          onChange={(m) => set({ method: m as Method })}
          data={[
            { value: "stopwatch", label: "Stopwatch, measured distance" },
            { value: "odometer", label: "Odometer, known distance" },
            { value: "track", label: "Recorded track (GPX)" },
          ]}
        />
        {f.method === "stopwatch" && <Runs form={f} set={set} refused={refused} units={units} />}
        {f.method === "odometer" && (
          <div className={classes.fields}>
            {b.text(`Odometer counted, ${far}`, "shown", { field: "shown_km" })}
            {b.text(`Known distance, ${far}`, "actual", { field: "true_km" })}
            {b.text(`Last digit shown, ${far}`, "step", { field: "step_km", placeholder: "0.1" })}
            {b.text("Distance known to ± %", "sure", { field: "true_percent", placeholder: "0.2" })}
          </div>
        )}
        {f.method === "track" && (
          <Track form={f} set={set} refused={refused} units={units} gpx={gpx} setGPX={setGPX} far={far} />
        )}
        <Installed f={f} b={b} refused={refused} />
      </div>
      {!v ? (
        <Waiting title="How true is it?" missing={missing[f.method]} error={error} />
      ) : (
        <>
          <Result v={v} units={units} />
          {v.track && (
            <Suspense fallback={<p className="dim">Drawing …</p>}>
              <TrackPlot track={v.track} name={name} noted={request.verify?.noted ?? none} />
            </Suspense>
          )}
          {unit !== undefined && maySave && (
            <div className="row no-print">
              <Button
                color="brass.4"
                autoContrast
                loading={record.isPending}
                onClick={() => record.mutate({ kind: "check", speedometer: withTrack(request, gpx) })}
              >
                Save the check
              </Button>
              {record.error && <span className="trouble">{record.error.message}</span>}
            </div>
          )}
        </>
      )}
    </div>
  );
}

/** What each way of checking still needs. */
function missingOf(f: SpeedoForm, track: boolean): Record<Method, (string | false)[]> {
  const filled = (...list: string[]) => list.every((s) => s.trim() !== "");
  const runs = f.runs.filter((r) => filled(r.shown, r.distance, r.seconds));
  const noted = f.noted.filter((n) => filled(n.time, n.shown));
  return {
    stopwatch: [runs.length === 0 && "a run at a steady speed: what the needle shows, the distance, and the time"],
    odometer: [
      !f.shown.trim() && "what the odometer counted",
      !f.actual.trim() && "the known distance: kilometer posts, or a map",
    ],
    track: [
      !track && "a recorded track: a GPX file, version 1.0 or 1.1",
      !f.shown.trim() && noted.length === 0 && "what the odometer counted along the track, or speeds noted on the way",
    ],
  };
}

interface InstalledProps {
  f: SpeedoForm;
  b: ReturnType<typeof bind<SpeedoForm, Verify>>;
  refused?: Refused;
}

/** What was fitted during the check, and the figures that are corrected by it. */
function Installed({ f, b, refused }: InstalledProps) {
  const [units] = useUnits();
  const far = distanceUnit(units);
  const at = (field: string) => refused?.at(`/verify/${field}`);
  return (
    <details
      className="decide-box"
      open={
        Boolean(f.economy || f.range || f.odoThen || f.odoToday) ||
        ["driven", "calibrated", "l_per_100km", "range_km", "odometer_then", "odometer_today"].some(at)
      }
    >
      <summary>
        Installed during the check, and figures to correct
        {f.drive && f.driven && `: gears ${f.drive} and ${f.driven}`}
        {f.calibrated && `: ${f.calibrated} pulses per ${f.calPer}`}
      </summary>
      <div className={classes.fields}>
        {b.text("Drive gear", "drive", { field: "driven", placeholder: "teeth" })}
        {b.text("Driven gear", "driven", { placeholder: "teeth" })}
        {b.text(`Calibration, pulses per ${f.calPer}`, "calibrated")}
      </div>
      <div className={classes.fields}>
        {b.text(units === "inch" ? "Economy, miles a US gallon" : "Consumption, l/100 km", "economy", {
          field: "l_per_100km",
        })}
        {b.text(`Range shown, ${far}`, "range", { field: "range_km" })}
        {b.text(`Odometer at the change, ${far}`, "odoThen", { field: "odometer_then" })}
        {b.text(`Odometer today, ${far}`, "odoToday", { field: "odometer_today" })}
      </div>
    </details>
  );
}

function Result({ v, units }: { v: SpeedoVerified; units: Units }) {
  const far = distanceUnit(units);
  const way = (km: number) => `${fixed(fromKM(km, units), 1)} ${far}`;
  const of = (c: { what: string }) => (c.what.startsWith("odometer") ? far : speedUnit(units));
  return (
    <>
      <AnswerPlate className={classes.edge} mark={v.level}>
        <div>
          <p className="decide-kicker">{levels[v.level]}</p>
          <h2>{v.text}</h2>
          {v.correction && <p className="decide-sure">{v.correction}</p>}
          <small>{v.formula}</small>
        </div>
        <dl className={classes.numbers}>
          <div>
            <dt>error</dt>
            <dd>{change(v.percent, 2)}</dd>
          </div>
          <div>
            <dt>plus or minus</dt>
            <dd>{fixed(v.plus_minus_percent, 2)} %</dd>
          </div>
          {v.new_pulses_per_km !== undefined && (
            <div>
              <dt>pulses per km</dt>
              <dd>{fixed(v.new_pulses_per_km, 0)}</dd>
            </div>
          )}
          {v.ideal_driven !== undefined && (
            <div>
              <dt>driven gear</dt>
              <dd>
                {v.driven} <small>({fixed(v.ideal_driven, 2)} is true)</small>
              </dd>
            </div>
          )}
          {v.true_l_per_100km !== undefined && (
            <div>
              <dt>{units === "inch" ? "true economy" : "true consumption"}</dt>
              <dd>
                {units === "inch"
                  ? `${fixed(milesPerGallon(v.true_l_per_100km), 1)} mpg`
                  : `${fixed(v.true_l_per_100km, 1)} l/100 km`}
              </dd>
            </div>
          )}
          {v.true_range_km !== undefined && (
            <div>
              <dt>true range</dt>
              <dd>{way(v.true_range_km)}</dd>
            </div>
          )}
          {v.true_odometer_km !== undefined && (
            <div>
              <dt>true odometer</dt>
              <dd>{way(v.true_odometer_km)}</dd>
            </div>
          )}
        </dl>
      </AnswerPlate>
      <table className="figures">
        <thead>
          <tr>
            <th>Check</th>
            <th className="num">shown</th>
            <th className="num">true</th>
            <th className="num">error</th>
            <th className="num">plus or minus</th>
          </tr>
        </thead>
        <tbody>
          {v.checks.map((c) => (
            <tr key={c.what}>
              <td>{c.what}</td>
              <td className="num">
                {fixed(fromKM(c.shown, units), 2)} {of(c)}
              </td>
              <td className="num">
                {fixed(fromKM(c.actual, units), 2)} {of(c)}
              </td>
              <td className="num">{change(c.percent, 2)}</td>
              <td className="num">± {fixed(c.plus_minus_percent, 2)} %</td>
            </tr>
          ))}
        </tbody>
      </table>
      {v.notes.map((n) => (
        <p key={n} className="dim">
          {n}
        </p>
      ))}
    </>
  );
}

type Rows = {
  form: SpeedoForm;
  set: (v: Partial<SpeedoForm>) => void;
  refused?: Refused;
  units: Units;
};

/** Timed runs; the watch is here, the passenger presses. */
function Runs({ form: f, set, refused, units }: Rows) {
  // Server indexes count only the rows with something in them.
  const index = (i: number) =>
    f.runs.slice(0, i).filter((r) => r.shown.trim() || r.distance.trim() || r.seconds.trim()).length;
  return (
    <div className="stack">
      {f.runs.map((r, i) => {
        const put = (v: Partial<Run>) => set({ runs: f.runs.map((x, k) => (k === i ? { ...x, ...v } : x)) });
        const b = bind<Run, NonNullable<Verify["runs"]>[number]>(r, put, refused, {
          at: `/verify/runs/${index(i)}`,
          numeric: true,
        });
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other name
          <div className={classes.fields} key={i}>
            {b.text(`Needle shows, ${speedUnit(units)}`, "shown", { field: "shown_kmh" })}
            {b.text("Distance, m", "distance", { field: "meters", placeholder: "1000" })}
            {b.text("Time, s", "seconds")}
            <Watch run={i + 1} onTime={(s) => put({ seconds: s })} />
          </div>
        );
      })}
      <div className="row">
        <Button
          variant="default"
          size="sm"
          leftSection={<IconPlus size={16} />}
          disabled={f.runs.length >= 50}
          onClick={() =>
            set({ runs: [...f.runs, { shown: "", distance: f.runs.at(-1)?.distance ?? "", seconds: "" }] })
          }
        >
          Another run
        </Button>
        {f.runs.length > 1 && (
          <button type="button" className="linklike" onClick={() => set({ runs: f.runs.slice(0, -1) })}>
            Remove the last run
          </button>
        )}
        <span className="dim">Drive both ways and let a passenger read and press.</span>
      </div>
    </div>
  );
}

/** A stopwatch for one run. */
function Watch({ run, onTime }: { run: number; onTime: (seconds: string) => void }) {
  const [from, setFrom] = useState<number>();
  const [now, setNow] = useState(0);
  useEffect(() => {
    if (from === undefined) return;
    const t = setInterval(() => setNow(performance.now()), 100);
    return () => clearInterval(t);
  }, [from]);
  return (
    <Button
      className={classes.watch}
      data-part="watch"
      variant={from === undefined ? "default" : "filled"}
      aria-label={from === undefined ? `Time it, run ${run}` : `${((now - from) / 1000).toFixed(1)} s, stop run ${run}`}
      leftSection={from === undefined ? <IconPlayerPlay size={16} /> : <IconPlayerStop size={16} />}
      onClick={() => {
        const t = performance.now();
        if (from === undefined) {
          setFrom(t);
          setNow(t);
        } else {
          setFrom(undefined);
          onTime(((t - from) / 1000).toFixed(1));
        }
      }}
    >
      {from === undefined ? "Time it" : `${((now - from) / 1000).toFixed(1)} s`}
    </Button>
  );
}

/** A recorded track with the odometer's count or speeds that were noted. */
function Track({
  form: f,
  set,
  refused,
  units,
  gpx,
  setGPX,
  far,
}: Rows & Pick<Props, "gpx" | "setGPX"> & { far: string }) {
  const [trouble, setTrouble] = useState("");
  const b = bind<SpeedoForm, Verify>(f, set, refused, { at: "/verify", numeric: true });
  const wrong = b.fault("gpx") ?? trouble;
  const index = (i: number) => f.noted.slice(0, i).filter((n) => n.time.trim() || n.shown.trim()).length;
  const read = async (file: File | null) => {
    if (!file) return;
    if (file.size > 7_000_000) {
      setTrouble("The file is larger than 7 MB: export the part of the track that was driven for the check.");
      return;
    }
    setTrouble("");
    setGPX({ id: gpx.id + 1, name: file.name, text: await file.text() });
  };
  return (
    <div className="stack">
      <div className="row wrap">
        <FileButton
          onChange={read}
          accept=".gpx,application/gpx+xml,text/xml"
          inputProps={{ "aria-label": "Track file" }}
        >
          {(p) => (
            <Button {...p} leftSection={<IconRoute size={18} />}>
              {gpx.name ? "Another track" : "Choose a track"}
            </Button>
          )}
        </FileButton>
        <span className={wrong ? "trouble" : "dim"} role={wrong ? "alert" : undefined}>
          {wrong || gpx.name || "GPX 1.0 or 1.1, recorded on the drive; the track itself is not saved."}
        </span>
      </div>
      <div className={classes.fields}>
        {b.text(`Odometer counted on the drive, ${far}`, "shown", { field: "shown_km" })}
        {b.text(`Last digit shown, ${far}`, "step", { field: "step_km", placeholder: "0.1" })}
      </div>
      {f.noted.map((n, i) => {
        const put = (v: Partial<Noted>) => set({ noted: f.noted.map((x, k) => (k === i ? { ...x, ...v } : x)) });
        const row = bind<Noted, NonNullable<Verify["noted"]>[number]>(n, put, refused, {
          at: `/verify/noted/${index(i)}`,
          numeric: true,
        });
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other name
          <div className={classes.fields} key={i}>
            {row.text("Noted at", "time", { placeholder: "seconds from the start, or a date and time", words: true })}
            {row.text(`Needle showed, ${speedUnit(units)}`, "shown", { field: "shown_kmh" })}
          </div>
        );
      })}
      <div className="row">
        <Button
          variant="default"
          size="sm"
          leftSection={<IconPlus size={16} />}
          disabled={f.noted.length >= 200 || typed(f.noted.at(-1)?.shown ?? "") === undefined}
          onClick={() => set({ noted: [...f.noted, { time: "", shown: "" }] })}
        >
          Another speed
        </Button>
        {f.noted.length > 1 && (
          <button type="button" className="linklike" onClick={() => set({ noted: f.noted.slice(0, -1) })}>
            Remove the last one
          </button>
        )}
      </div>
    </div>
  );
}
