import { Button, TextInput } from "@mantine/core";
import { IconDownload, IconPrinter } from "@tabler/icons-react";
import { useState } from "react";
import type { Doc, DrivelineState, GearRow, ShiftRow, Trace } from "../../api/client";
import { useUnits } from "../../app/units";
import { downloadCSV } from "../../format/csv";
import { fixed, fromKMH, speedUnit, toKMH, typed, type Units } from "../../format/numbers";
import { partName } from "../../machine/document";
import { useTrace } from "../../machine/useTrace";
import { exactText } from "./model";
import "./driveline.css";

type GearsProps = {
  doc: Doc;
  state: DrivelineState;
  name: string;
  /** Shows a row on the drawn machine. */
  onTry?: (set: Record<string, string>) => void;
};

/** Every gear in every range: ratio, road speed, and rpm at a cruise. */
export function GearsTable({ doc, state, name, onTry }: GearsProps) {
  const [units] = useUnits();
  const { trace } = useTrace(doc, state, { gears: true });
  const rows = trace?.gears;
  if (!rows) return <p className="dim">Working it out …</p>;
  const knots = rows.some((r) => r.knots_per_1000 !== undefined);
  const ranges = rows.some((r) => r.range);
  const most = Math.max(1e-9, ...rows.map((r) => r.overall?.decimal ?? 0));
  return (
    <section className="sheet">
      <div className="row spread no-print">
        <p className="dim">
          Input turns per wheel or propeller turn, straight ahead.{onTry && " Tap a row to see it drawn."}
        </p>
        <Button
          variant="default"
          size="sm"
          leftSection={<IconDownload size={16} />}
          onClick={() => gearsCSV(rows, name)}
        >
          CSV
        </Button>
      </div>
      <div className="scroll">
        <table className="figures">
          <thead>
            <tr>
              <th>Gear</th>
              {ranges && <th>Range</th>}
              <th>Overall</th>
              <th className="bar-head">shorter →</th>
              <th>{knots ? "kn, no slip, at 1000 rpm" : `${speedUnit(units)} at 1000 rpm`}</th>
              {!knots && <th>{`rpm at ${cruise[units]} ${speedUnit(units)}`}</th>}
              {!knots && <th>Thrust, N per N·m</th>}
              <th>From</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <GearLine
                key={r.name + r.range}
                row={r}
                ranges={ranges}
                knots={knots}
                most={most}
                units={units}
                onTry={onTry}
              />
            ))}
          </tbody>
        </table>
      </div>
      <p className="dim">
        Thrust is drive force at the tires per newton meter of engine torque, without losses: overall ratio ÷ rolling
        radius.
      </p>
    </section>
  );
}

/** A road speed that rpm is told at. */
const cruise: Record<Units, number> = { metric: 90, inch: 60 };

type LineProps = {
  row: GearRow;
  ranges: boolean;
  knots: boolean;
  most: number;
  units: Units;
  onTry: GearsProps["onTry"];
};

function GearLine({ row: r, ranges, knots, most, units, onTry }: LineProps) {
  const name = `${r.name}${r.reverse ? " (back)" : ""}`;
  return (
    <tr>
      <td>
        {onTry ? (
          <button type="button" className="linklike" onClick={() => onTry(r.select)}>
            {name}
          </button>
        ) : (
          name
        )}
      </td>
      {ranges && <td>{r.range}</td>}
      {r.overall ? (
        <>
          <td className="num">
            <b>{fixed(r.overall.decimal, 3)}</b> <small>{exactText(r.overall)}</small>
          </td>
          <td aria-hidden="true">
            <span className="ladder" style={{ width: `${Math.min(100, (100 * r.overall.decimal) / most)}%` }} />
          </td>
          <td className="num">{knots ? r.knots_per_1000?.toFixed(2) : speedAt1000(r, units)}</td>
          {!knots && <td className="num">{rpmAt(r, toKMH(cruise[units], units))}</td>}
          {!knots && <td className="num">{r.thrust !== undefined ? fixed(r.thrust, 2) : ""}</td>}
          <td>
            <small>{r.formula}</small>
          </td>
        </>
      ) : (
        <td colSpan={6}>
          <small>{r.missing}</small>
        </td>
      )}
    </tr>
  );
}

const speedAt1000 = (r: GearRow, units: Units) =>
  r.kmh_per_1000 !== undefined ? fixed(fromKMH(r.kmh_per_1000, units), 2) : "tire not known";

const rpmAt = (r: GearRow, kmh: number) => (r.kmh_per_1000 ? fixed((kmh / r.kmh_per_1000) * 1000, 0) : "");

const gearsCSV = (rows: GearRow[], name: string) =>
  downloadCSV(`${name} gears.csv`, [
    [
      "gear",
      "range",
      "overall_num",
      "overall_den",
      "overall",
      "kmh_per_1000_rpm",
      "knots_per_1000_rpm",
      "newton_per_newton_meter",
      "formula",
    ],
    ...rows.map((r) => [
      r.name,
      r.range ?? "",
      r.overall?.num ?? "",
      r.overall?.den ?? "",
      r.overall?.decimal ?? "",
      r.kmh_per_1000?.toFixed(4) ?? "",
      r.knots_per_1000?.toFixed(4) ?? "",
      r.thrust?.toFixed(4) ?? "",
      r.formula || (r.missing ?? ""),
    ]),
  ]);

/** What each synchronizer or dog closes at a road speed. */
export function ShiftsTable({ doc, state }: { doc: Doc; state: DrivelineState }) {
  const [units] = useUnits();
  const [speed, setSpeed] = useState("30");
  const v = typed(speed);
  const kmh = v && v > 0 && v < 400 ? toKMH(v, units) : 30;
  const { trace } = useTrace(doc, state, { shifts: true, speed_kmh: kmh });
  const rows = trace?.shifts;
  const parts = [...new Set(rows?.map((r) => r.part))];
  return (
    <section className="sheet">
      <div className="row">
        <TextInput
          label={`Road speed, ${speedUnit(units)}`}
          value={speed}
          w={150}
          onChange={(e) => setSpeed(e.currentTarget.value)}
          error={v === undefined || Number.isNaN(v) || v <= 0 || v >= 400 ? "a speed between 0 and 400" : undefined}
        />
        <p className="dim">
          Clutch open: the next gear still runs at the old gear's speed; its synchronizer or dogs have to close this
          difference to the shaft, in rpm. + means the gear must slow down, − speed up.
        </p>
      </div>
      {rows && rows.length === 0 && <p>Not known yet: it takes the gearbox's ratios, the axle's and the tires.</p>}
      {parts.map((id) => (
        <ShiftGrid
          key={id}
          name={partName(doc.parts.find((p) => p.id === id) ?? { id, kind: "gearbox" })}
          rows={rows?.filter((r) => r.part === id) ?? []}
        />
      ))}
    </section>
  );
}

function ShiftGrid({ name, rows }: { name: string; rows: ShiftRow[] }) {
  const names = [...new Set(rows.map((r) => r.from))];
  return (
    <>
      <h2>{name}</h2>
      <table className="figures grid">
        <thead>
          <tr>
            <th>from \ to</th>
            {names.map((n) => (
              <th key={n}>{n}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {names.map((a) => (
            <tr key={a}>
              <th>{a}</th>
              {names.map((b) => {
                const r = rows.find((x) => x.from === a && x.to === b);
                if (!r) return <td key={b}>–</td>;
                const much = Math.min(1, Math.abs(r.closes_rpm) / 1500);
                return (
                  <td
                    key={b}
                    className="num"
                    title={`${r.formula}; input ${fixed(r.before_rpm, 0)} → ${fixed(r.after_rpm, 0)} rpm; ${r.selector}`}
                  >
                    <span className="close" style={{ ["--much" as string]: much }}>
                      {r.closes_rpm > 0 ? "+" : ""}
                      {fixed(r.closes_rpm, 0)}
                    </span>
                    <small>
                      in {fixed(r.before_rpm, 0)} → {fixed(r.after_rpm, 0)}
                    </small>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

/** The hand tests worth doing, to print and take along. */
export function StandsSheet({ doc, title, onShow }: { doc: Doc; title: string; onShow: (s: DrivelineState) => void }) {
  const { trace } = useTrace(doc, {}, { tests: true });
  const tests: Trace["tests"] = trace?.tests;
  if (!tests) return <p className="dim">Working it out …</p>;
  return (
    <section className="sheet stands">
      <div className="row spread">
        <h2>
          {doc.lies === "vehicle" ? "On stands" : "By hand"}: {title}
        </h2>
        <Button
          className="no-print"
          variant="default"
          size="sm"
          leftSection={<IconPrinter size={16} />}
          onClick={() => window.print()}
        >
          Print
        </Button>
      </div>
      <p className="caution">
        {doc.lies === "vehicle"
          ? "Chock the wheels; jack stands under the rated points, never a jack alone. Engine off, key out. In neutral with the brake off it rolls. Keep clear of turning wheels. Follow the maker's manual."
          : doc.lies === "boat"
            ? "Engine off, key out, propeller removed. Turn only the engine's own way: turning backward wrecks the water-pump impeller. Follow the maker's manual."
            : "Heavy part: use a cradle or bench clamp. Springs and detent balls fly. Follow the maker's manual."}
      </p>
      {tests.length === 0 && <p>Nothing to test by hand here yet: add an axle, gearbox, transfer case or gearcase.</p>}
      <ol className="hand-tests">
        {tests.map((h) => (
          <li key={h.title}>
            <h3>{h.title}</h3>
            <div className="hand">
              <div>
                {h.setup.map((s) => (
                  <div key={s}>{s}</div>
                ))}
                <b>{h.turn}</b>
              </div>
              <ul>
                {h.expect.map((x) => (
                  <li key={x.shaft}>
                    <span className="tick-box" aria-hidden="true" /> {x.name}: <b>{x.words}</b>
                  </li>
                ))}
              </ul>
              <div>
                <small>{h.tells}</small>
                <button type="button" className="linklike no-print" onClick={() => onShow(h.state)}>
                  Show it
                </button>
              </div>
            </div>
          </li>
        ))}
      </ol>
    </section>
  );
}
