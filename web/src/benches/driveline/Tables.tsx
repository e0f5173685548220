import { Button, TextInput } from "@mantine/core";
import { IconDownload, IconPrinter } from "@tabler/icons-react";
import { useState } from "react";
import type { Doc, DrivelineState, ShiftRow, Trace } from "../../api/client";
import { useUnits } from "../../app/units";
import { downloadCSV } from "../../format/csv";
import { fixed, kmPerMile, speedUnit, toKMH, typed } from "../../format/numbers";
import { partName } from "../../machine/document";
import { useTrace } from "../../machine/useTrace";
import { exactText } from "./model";
import "./driveline.css";

const perUnit = (kmh: number, inch: boolean) => (inch ? kmh / kmPerMile : kmh);

/** Every gear in every range. */
export function GearsTable({
  doc,
  state,
  name,
  onTry,
}: {
  doc: Doc;
  state: DrivelineState;
  name: string;
  onTry: (set: Record<string, string>) => void;
}) {
  const [units] = useUnits();
  const inch = units === "inch";
  const { trace } = useTrace(doc, state, { gears: true });
  const rows = trace?.gears;
  if (!rows) return <p className="dim">Working it out …</p>;
  const first = rows.find((r) => r.overall)?.overall?.decimal ?? 1;
  const knots = rows.some((r) => r.knots_per_1000 !== undefined);
  const csv = () =>
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
  return (
    <section className="sheet">
      <div className="row spread no-print">
        <p className="dim">Input turns per wheel or propeller turn, straight ahead. Tap a row to see it drawn.</p>
        <Button variant="default" size="sm" leftSection={<IconDownload size={16} />} onClick={csv}>
          CSV
        </Button>
      </div>
      <table className="figures">
        <thead>
          <tr>
            <th>Gear</th>
            {rows.some((r) => r.range) && <th>Range</th>}
            <th>Overall</th>
            <th className="bar-head">shorter →</th>
            <th>{knots ? "kn, no slip, at 1000 rpm" : `${speedUnit(units)} at 1000 rpm`}</th>
            {!knots && <th>Thrust, N per N·m</th>}
            <th>From</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <tr key={r.name + r.range}>
              <td>
                <button type="button" className="linklike" onClick={() => onTry(r.select)}>
                  {r.name}
                  {r.reverse ? " (back)" : ""}
                </button>
              </td>
              {rows.some((x) => x.range) && <td>{r.range}</td>}
              {r.overall ? (
                <>
                  <td className="num">
                    <b>{fixed(r.overall.decimal, 3)}</b> <small>{exactText(r.overall)}</small>
                  </td>
                  <td aria-hidden="true">
                    <span
                      className="ladder"
                      style={{
                        width: `${Math.min(100, (100 * r.overall.decimal) / Math.max(first, ...rows.map((x) => x.overall?.decimal ?? 0)))}%`,
                      }}
                    />
                  </td>
                  <td className="num">
                    {knots
                      ? r.knots_per_1000?.toFixed(2)
                      : r.kmh_per_1000 !== undefined
                        ? fixed(perUnit(r.kmh_per_1000, inch), 2)
                        : "tire not known"}
                  </td>
                  {!knots && <td className="num">{r.thrust !== undefined ? fixed(r.thrust, 2) : ""}</td>}
                  <td>
                    <small>{r.formula}</small>
                  </td>
                </>
              ) : (
                <td colSpan={5}>
                  <small>{r.missing}</small>
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="dim">
        Thrust is drive force at the tires per newton meter of engine torque, without losses: overall ratio ÷ rolling
        radius.
      </p>
    </section>
  );
}

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
