import { Button, FileButton, SegmentedControl, TextInput } from "@mantine/core";
import { IconPlayerPlay, IconPlayerStop, IconPlus, IconRoute } from "@tabler/icons-react";
import { lazy, Suspense, useEffect, useState } from "react";
import type { SpeedoVerified } from "../../api/client";
import { useMaySave } from "../../app/session";
import { useUnits } from "../../app/units";
import { Waiting } from "../../app/Waiting";
import { change, distanceUnit, fixed, fromKM, speedUnit, typed, type Units } from "../../format/numbers";
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
import "./speedo.css";

const TrackPlot = lazy(() => import("./TrackPlot").then((m) => ({ default: m.TrackPlot })));

const none: never[] = [];

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
  const filled = (...list: string[]) => list.every((s) => s.trim() !== "");
  const runs = f.runs.filter((r) => filled(r.shown, r.distance, r.seconds));
  const noted = f.noted.filter((n) => filled(n.time, n.shown));
  const missing: Record<Method, (string | false)[]> = {
    stopwatch: [runs.length === 0 && "a run at a steady speed: what the needle shows, the distance, and the time"],
    odometer: [
      !f.shown.trim() && "what the odometer counted",
      !f.actual.trim() && "the known distance: kilometer posts, or a map",
    ],
    track: [
      !gpx.text && "a recorded track: a GPX file, version 1.0 or 1.1",
      !f.shown.trim() && noted.length === 0 && "what the odometer counted along the track, or speeds noted on the way",
    ],
  };
  const ready = missing[f.method].every((m) => m === false);
  const request = checkOf(f, units);
  const { answer, refused, error } = useSpeedo(request, ready, gpx);
  const v = answer?.verified;
  const at = (field: string) => refused?.at(`/verify/${field}`);
  const text = (label: string, key: keyof SpeedoForm, field: string, placeholder?: string) => (
    <TextInput
      label={label}
      inputMode="decimal"
      placeholder={placeholder}
      value={String(f[key])}
      onChange={(e) => set({ [key]: e.currentTarget.value })}
      error={at(field)}
    />
  );
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
        {f.method === "stopwatch" && <Runs form={f} set={set} at={at} units={units} />}
        {f.method === "odometer" && (
          <div className="sp-fields">
            {text(`Odometer counted, ${far}`, "shown", "shown_km")}
            {text(`Known distance, ${far}`, "actual", "true_km")}
            {text(`Its last digit, ${far}`, "step", "step_km", "0.1")}
            {text("Distance known to ± %", "sure", "true_percent", "0.2")}
          </div>
        )}
        {f.method === "track" && <Track form={f} set={set} at={at} units={units} gpx={gpx} setGPX={setGPX} far={far} />}
        <details
          className="decide-box"
          open={
            Boolean(f.economy || f.range || f.odoThen || f.odoToday) ||
            ["driven", "calibrated", "l_per_100km", "range_km", "odometer_then", "odometer_today"].some(at)
          }
        >
          <summary>
            In it during the check, and figures to correct
            {f.drive && f.driven && `: gears ${f.drive} and ${f.driven}`}
            {f.calibrated && `: ${f.calibrated} pulses per ${f.calPer}`}
          </summary>
          <div className="sp-fields">
            {text("Drive gear", "drive", "driven", "teeth")}
            {text("Driven gear", "driven", "driven", "teeth")}
            {text(`Calibration, pulses per ${f.calPer}`, "calibrated", "calibrated")}
          </div>
          <div className="sp-fields">
            {text(units === "inch" ? "Economy, miles a US gallon" : "Consumption, l/100 km", "economy", "l_per_100km")}
            {text(`Range shown, ${far}`, "range", "range_km")}
            {text(`Odometer at the change, ${far}`, "odoThen", "odometer_then")}
            {text(`Odometer today, ${far}`, "odoToday", "odometer_today")}
          </div>
        </details>
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
                Record the check
              </Button>
              {record.error && <span className="trouble">{record.error.message}</span>}
            </div>
          )}
        </>
      )}
    </div>
  );
}

function Result({ v, units }: { v: SpeedoVerified; units: Units }) {
  const far = distanceUnit(units);
  const way = (km: number) => `${fixed(fromKM(km, units), 1)} ${far}`;
  const of = (c: { what: string }) => (c.what.startsWith("odometer") ? far : speedUnit(units));
  return (
    <>
      <div className={`decide-plate sp-edge-${v.level}`} aria-live="polite">
        <div>
          <p className="decide-kicker">{levels[v.level]}</p>
          <h2>{v.text}</h2>
          {v.correction && <p className="decide-sure">{v.correction}</p>}
          <small>{v.formula}</small>
        </div>
        <dl className="sp-numbers">
          <div>
            <dt>error</dt>
            <dd>{change(v.percent, 2)}</dd>
          </div>
          <div>
            <dt>give or take</dt>
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
      </div>
      <table className="figures">
        <thead>
          <tr>
            <th>Check</th>
            <th className="num">shown</th>
            <th className="num">true</th>
            <th className="num">error</th>
            <th className="num">give or take</th>
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
  at: (f: string) => string | undefined;
  units: Units;
};

/** Timed runs; the watch is here, the passenger presses. */
function Runs({ form: f, set, at, units }: Rows) {
  const put = (i: number, v: Partial<Run>) => set({ runs: f.runs.map((r, k) => (k === i ? { ...r, ...v } : r)) });
  // Server indexes count only the rows with something in them.
  const index = (i: number) =>
    f.runs.slice(0, i).filter((r) => r.shown.trim() || r.distance.trim() || r.seconds.trim()).length;
  return (
    <div className="stack">
      {f.runs.map((r, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other name
        <div className="sp-fields" key={i}>
          <TextInput
            label={`Needle shows, ${speedUnit(units)}`}
            inputMode="decimal"
            value={r.shown}
            onChange={(e) => put(i, { shown: e.currentTarget.value })}
            error={at(`runs/${index(i)}/shown_kmh`)}
          />
          <TextInput
            label="Distance, m"
            inputMode="decimal"
            placeholder="1000"
            value={r.distance}
            onChange={(e) => put(i, { distance: e.currentTarget.value })}
            error={at(`runs/${index(i)}/meters`)}
          />
          <TextInput
            label="Time, s"
            inputMode="decimal"
            value={r.seconds}
            onChange={(e) => put(i, { seconds: e.currentTarget.value })}
            error={at(`runs/${index(i)}/seconds`)}
          />
          <Watch run={i + 1} onTime={(s) => put(i, { seconds: s })} />
        </div>
      ))}
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
            Take the last run off
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
      className="sp-watch"
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
function Track({ form: f, set, at, units, gpx, setGPX, far }: Rows & Pick<Props, "gpx" | "setGPX"> & { far: string }) {
  const [trouble, setTrouble] = useState("");
  const put = (i: number, v: Partial<Noted>) => set({ noted: f.noted.map((n, k) => (k === i ? { ...n, ...v } : n)) });
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
        <span className={at("gpx") || trouble ? "trouble" : "dim"} role={at("gpx") || trouble ? "alert" : undefined}>
          {at("gpx") ?? (trouble || gpx.name || "GPX 1.0 or 1.1, recorded on the way; the track itself is not kept.")}
        </span>
      </div>
      <div className="sp-fields">
        <TextInput
          label={`Odometer counted on the way, ${far}`}
          inputMode="decimal"
          value={f.shown}
          onChange={(e) => set({ shown: e.currentTarget.value })}
          error={at("shown_km")}
        />
        <TextInput
          label={`Its last digit, ${far}`}
          inputMode="decimal"
          placeholder="0.1"
          value={f.step}
          onChange={(e) => set({ step: e.currentTarget.value })}
          error={at("step_km")}
        />
      </div>
      {f.noted.map((n, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows have no other name
        <div className="sp-fields" key={i}>
          <TextInput
            label="Noted at"
            placeholder="seconds from the start, or a date and time"
            value={n.time}
            onChange={(e) => put(i, { time: e.currentTarget.value })}
            error={at(`noted/${index(i)}/time`)}
          />
          <TextInput
            label={`Needle showed, ${speedUnit(units)}`}
            inputMode="decimal"
            value={n.shown}
            onChange={(e) => put(i, { shown: e.currentTarget.value })}
            error={at(`noted/${index(i)}/shown_kmh`)}
          />
        </div>
      ))}
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
            Take the last off
          </button>
        )}
      </div>
    </div>
  );
}
