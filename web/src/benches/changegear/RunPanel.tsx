import { Button, NativeSelect, TextInput } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { memo, useState } from "react";
import { CartesianGrid, Line, LineChart, ResponsiveContainer, XAxis, YAxis } from "recharts";
import {
  api,
  type ChangeGearsAnswer,
  type ChangeGearsRequest,
  type ChangeGearsRun,
  type ChangeGearsRunRequest,
  Refused,
  take,
} from "../../api/client";
import { useUnits } from "../../app/units";
import { axis } from "../../drawing/Figure";
import { FileButton } from "../../fields/FileButton";
import { bind } from "../../form/bind";
import { change, fixed, fromKMH, speedUnit, type Units } from "../../format/numbers";
import { number } from "../tire/model";
import classes from "./changegear.module.css";
import type { Form } from "./model";

type Props = {
  answer: ChangeGearsAnswer;
  ask: ChangeGearsRequest;
  form: Form;
  set: (v: Partial<Form>) => void;
};

/** A recorded run, gear by gear, and the set that would have put its peak where it is wanted. */
export function RunPanel({ answer, ask, form, set }: Props) {
  const [units] = useUnits();
  const [text, setText] = useState<string>();
  const read = useMutation({
    mutationFn: (log: string) =>
      take(
        api.POST("/calc/change-gears/run", {
          body: {
            change_gears: { ...ask, goal: undefined },
            run: {
              text: log,
              columns: form.columns,
              limiter_rpm: number(form.limiter),
              wanted_rpm: number(form.wanted),
            },
          },
        }),
      ),
  });
  const run = read.data;
  const refused = read.error instanceof Refused ? read.error : undefined;
  const b = bind<Form, ChangeGearsRunRequest>(form, set, refused);
  return (
    <div className="stack">
      <p>
        A CSV log: column names in the first line, then time, engine rpm and road speed. Commas, semicolons or tabs;
        point or decimal comma; up to 200,000 rows.
      </p>
      <div className={classes.four}>
        {b.text("Limiter, rpm", "limiter", { field: "run/limiter_rpm", numeric: true })}
        {b.text("Target peak, rpm", "wanted", {
          field: "run/wanted_rpm",
          placeholder: "2 % under the limiter",
          numeric: true,
        })}
        <div className={classes.bottom}>
          <FileButton
            name="Recorded run"
            accept=".csv,.txt,text/csv"
            loading={read.isPending}
            onText={(text) => {
              setText(text);
              set({ columns: {} });
              read.mutate(text);
            }}
          >
            Choose a file
          </FileButton>
        </div>
      </div>
      {read.error && <p className="trouble">{refused?.faults.map((f) => f.message).join(" ") || read.error.message}</p>}
      {(run || refused?.within("/run/columns")) && (
        <Columns
          run={run}
          chosen={form.columns}
          refused={refused}
          onChoose={(columns) => set({ columns })}
          onAgain={text === undefined ? undefined : () => read.mutate(text)}
        />
      )}
      {run && (
        <>
          <Found
            run={run}
            onGrowth={(by) => set({ growth: String(Math.round(((ask.growth_percent ?? 0) + by) * 100) / 100) })}
          />
          <GearByGear run={run} units={units} limited={Boolean(form.limiter.trim())} />
          <Trace trace={run.trace} units={units} />
          <p className="dim">solid: rpm, at the left · dashed: {speedUnit(units)}, at the right</p>
        </>
      )}
      {!answer.rolling_mm && <p className="dim">The tire is needed to tell the gears apart.</p>}
    </div>
  );
}

type ColumnsProps = {
  run?: ChangeGearsRun;
  chosen: Record<string, string>;
  refused?: Refused;
  onChoose: (columns: Record<string, string>) => void;
  onAgain?: () => void;
};

/** Which column is which: as guessed, to be set right. */
function Columns({ run, chosen, refused, onChoose, onAgain }: ColumnsProps) {
  const header = run?.header ?? [];
  const column = (label: string, k: string, list: string[]) => (
    <NativeSelect
      label={label}
      value={chosen[k] ?? (run?.columns as Record<string, string> | undefined)?.[k] ?? ""}
      onChange={(e) => onChoose({ ...chosen, [k]: e.currentTarget.value })}
      error={refused?.field(`/run/columns/${k}`)}
      data={["", ...list]}
    />
  );
  return (
    <fieldset className={classes.columns}>
      <legend>Are these the columns?</legend>
      <div className={classes.four}>
        {header.length > 0 ? (
          <>
            {column("Time", "time", header)}
            {column("in", "time_unit", ["s", "ms"])}
            {column("Engine", "rpm", header)}
            {column("Speed", "speed", header)}
            {column("in", "speed_unit", ["km/h", "mph", "m/s", "kn"])}
          </>
        ) : (
          ["time", "rpm", "speed"].map((k) => (
            <TextInput
              key={k}
              label={`Column of the ${k}`}
              value={chosen[k] ?? ""}
              onChange={(e) => onChoose({ ...chosen, [k]: e.currentTarget.value })}
            />
          ))
        )}
        <div className={classes.bottom}>
          <Button variant="default" onClick={onAgain} disabled={!onAgain}>
            Read it again
          </Button>
        </div>
      </div>
    </fieldset>
  );
}

/** The set that would have put the peak where it belongs, and what else the run shows. */
function Found({ run, onGrowth }: { run: ChangeGearsRun; onGrowth: (percent: number) => void }) {
  const growth = run.growth_percent;
  return (
    <div className="decide-box">
      <b>{run.pick ? run.pick.sentence : run.text}</b>
      {run.pick && <span>{run.text}</span>}
      {run.pick?.formula && <small>{run.pick.formula}</small>}
      {run.pick && run.pick.buy.length > 0 && (
        <span>To buy for it: {run.pick.buy.map((b) => b.text).join("; or ")}.</span>
      )}
      {growth !== undefined && (
        <span>
          At the run's greatest speeds the tire rolled {change(growth)} against what is entered.{" "}
          {Math.abs(growth) >= 0.3 && (
            <button type="button" className="linklike" onClick={() => onGrowth(growth)}>
              Use this figure
            </button>
          )}
        </span>
      )}
      {run.dropped.length > 0 && <span className="trouble">Left out: {run.dropped.join("; ")}.</span>}
    </div>
  );
}

function GearByGear({ run, units, limited }: { run: ChangeGearsRun; units: Units; limited: boolean }) {
  return (
    <table className="figures">
      <thead>
        <tr>
          <th scope="col">Gear</th>
          <th scope="col">seconds</th>
          <th scope="col">peak rpm</th>
          <th scope="col">peak {speedUnit(units)}</th>
          <th scope="col">on the limiter, s</th>
        </tr>
      </thead>
      <tbody>
        {run.gears.map((g) => (
          <tr key={g.gear}>
            <th scope="row">{g.gear}</th>
            <td className="num">{fixed(g.seconds, 1)}</td>
            <td className="num">{g.seconds > 0 ? fixed(g.peak_rpm, 0) : "–"}</td>
            <td className="num">{g.seconds > 0 ? fixed(fromKMH(g.peak_kmh, units), 1) : "–"}</td>
            <td className="num">{limited ? fixed(g.limiter_seconds, 1) : "–"}</td>
          </tr>
        ))}
        <tr>
          <th scope="row">spinning or slipping</th>
          <td className="num">{fixed(run.spin_seconds, 1)}</td>
          <td colSpan={3} />
        </tr>
        <tr>
          <th scope="row">between gears, or too slow to tell</th>
          <td className="num">{fixed(run.other_seconds, 1)}</td>
          <td colSpan={3} />
        </tr>
      </tbody>
    </table>
  );
}

/** The run's rpm and speed by time. */
const Trace = memo(function Trace({ trace, units }: { trace: ChangeGearsRun["trace"]; units: Units }) {
  return (
    <ResponsiveContainer width="100%" height={220}>
      <LineChart data={trace.map(([t, rpm, kmh]) => ({ t, rpm, v: kmh && fromKMH(kmh, units) }))}>
        <CartesianGrid stroke="var(--line)" />
        <XAxis dataKey="t" type="number" domain={["dataMin", "dataMax"]} {...axis} unit=" s" />
        <YAxis yAxisId="rpm" {...axis} width={52} />
        <YAxis yAxisId="v" orientation="right" {...axis} width={44} />
        <Line yAxisId="rpm" dataKey="rpm" name="rpm" stroke="var(--series)" dot={false} isAnimationActive={false} />
        <Line
          yAxisId="v"
          dataKey="v"
          name={speedUnit(units)}
          stroke="var(--ink-2)"
          strokeDasharray="5 3"
          dot={false}
          isAnimationActive={false}
        />
      </LineChart>
    </ResponsiveContainer>
  );
});
