import { Alert, Button, NativeSelect, Table, TextInput } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { CartesianGrid, ReferenceLine, ResponsiveContainer, Scatter, ScatterChart, XAxis, YAxis } from "recharts";
import { api, type DriveAnswer, Refused, reason, take } from "../api/client";
import type { FieldsProps } from "../benches/identify/methods/method";
import { axis } from "../drawing/Figure";
import { FileButton } from "../fields/FileButton";
import { fixed, fromKMH, speedUnit, toMM, typed, type Units } from "../format/numbers";

type From = "satellite" | "wheels" | "needle";

/** A recorded drive: gears as bunches of engine speed over road speed, and the axle behind them. */
export default function DrivePanel({ draft, set, units }: FieldsProps) {
  const [text, setText] = useState<string>();
  const [name, setName] = useState("");
  const [gears, setGears] = useState("");
  const [from, setFrom] = useState<From>("satellite");
  const rolling = typed(draft.rolling);
  const read = useMutation({
    mutationFn: (csv: string) =>
      take(
        api.POST("/calc/drive", {
          body: {
            csv,
            from,
            rolling_mm: toMM(rolling ?? 0, units),
            gears: numbers(gears),
            between: draft.converter === "clutch" ? "clutch" : "converter",
          },
        }),
      ),
  });
  const a = read.data;
  const refused = read.error instanceof Refused ? read.error : undefined;
  return (
    <div className="stack">
      <p>
        A CSV of a drive: seconds, rpm and speed_kmh (or speed_mph). Hold each gear at a steady speed for ten seconds,
        on the level.
      </p>
      <div className="two">
        <TextInput
          label="Gearbox ratios, first gear first"
          placeholder="4.02 2.32 1.40 1.00 0.73"
          value={gears}
          onChange={(e) => setGears(e.currentTarget.value)}
          error={refused?.within("/gears")}
        />
        <NativeSelect
          label="Source of the road speed"
          value={from}
          onChange={(e) => setFrom(e.currentTarget.value as From)}
          data={[
            { value: "satellite", label: "a satellite receiver" },
            { value: "wheels", label: "wheel speed and the tire's size" },
            { value: "needle", label: "the vehicle's own needle" },
          ]}
        />
      </div>
      <div className="row wrap">
        <FileButton
          name="Recorded drive"
          accept=".csv,text/csv"
          variant="default"
          onText={(t, f) => {
            setText(t);
            setName(f);
          }}
        >
          Choose a file
        </FileButton>
        {name && <span>{name}</span>}
        <Button onClick={() => text && read.mutate(text)} disabled={!text || !rolling} loading={read.isPending}>
          Find gears and axle
        </Button>
        {!rolling && <span className="dim">Enter the rolling circumference above first.</span>}
      </div>
      {read.error && <Alert color="red">{reason(read.error)}</Alert>}
      {a && <Found a={a} units={units} />}
      {a?.reading && (
        <div>
          <Button
            variant="default"
            onClick={() => {
              const r = a.reading;
              if (!r) return;
              set({
                rpm: fixed(r.rpm, 0),
                speed: fixed(fromKMH(r.speed_kmh, units), 2),
                others: [fixed(r.gear, 3), draft.others[1] ?? "1"],
                converter: draft.converter === "open" ? "locked" : draft.converter,
              });
            }}
          >
            Use these road figures
          </Button>
        </div>
      )}
    </div>
  );
}

/** The numbers in a text, whatever stands between them. */
function numbers(s: string): number[] {
  return s
    .split(/[\s;/]+/)
    .map((x) => typed(x))
    .filter((n): n is number => n !== undefined && !Number.isNaN(n));
}

function Found({ a, units }: { a: DriveAnswer; units: Units }) {
  return (
    <>
      <p>
        <b>{a.sentence}</b>
      </p>
      {a.points.length > 0 && <Picture a={a} units={units} />}
      {a.bunches.length > 0 && (
        <Table>
          <Table.Thead>
            <Table.Tr>
              <Table.Th>Gear</Table.Th>
              <Table.Th>Ratio</Table.Th>
              <Table.Th>Engine turns a wheel turn</Table.Th>
              <Table.Th>Samples</Table.Th>
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            {a.bunches.map((b) => (
              <Table.Tr key={b.overall}>
                <Table.Td>{b.gear || "?"}</Table.Td>
                <Table.Td>{b.ratio ? fixed(b.ratio, 2) : "–"}</Table.Td>
                <Table.Td>
                  {fixed(b.overall, 2)} {b.smeared && "and above: slip"}
                </Table.Td>
                <Table.Td>{b.samples}</Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      )}
      <ul>
        {a.notes.map((n) => (
          <li key={n}>{n}</li>
        ))}
        {a.lag > 0 && <li>Road speed was taken {fixed(a.lag, 2)} s later: the receiver lags.</li>}
      </ul>
    </>
  );
}

/** Every sample that was taken over its speed, and the gears as lines. */
function Picture({ a, units }: { a: DriveAnswer; units: Units }) {
  const points = a.points.map((p) => ({ speed: fromKMH(p.speed_kmh, units), overall: p.overall }));
  return (
    <figure aria-label="Engine turns a wheel turn over road speed">
      <ResponsiveContainer width="100%" height={260}>
        <ScatterChart margin={{ left: 0, right: 48, top: 8, bottom: 18 }}>
          <CartesianGrid stroke="var(--line)" />
          <XAxis {...axis} type="number" dataKey="speed" name={speedUnit(units)} unit={` ${speedUnit(units)}`} />
          <YAxis {...axis} type="number" dataKey="overall" scale="log" domain={["auto", "auto"]} />
          {a.bunches.map((b) => (
            <ReferenceLine
              key={b.overall}
              y={b.overall}
              stroke="var(--go)"
              label={{ value: b.gear ? `${b.gear}` : "?", position: "right", fill: "var(--ink)" }}
            />
          ))}
          <Scatter data={points} fill="var(--series)" fillOpacity={0.45} isAnimationActive={false} shape={<Dot />} />
        </ScatterChart>
      </ResponsiveContainer>
    </figure>
  );
}

function Dot({ cx, cy, fill }: { cx?: number; cy?: number; fill?: string }) {
  return <circle cx={cx} cy={cy} r={1.8} fill={fill} fillOpacity={0.45} />;
}
