import { Button, Checkbox } from "@mantine/core";
import { IconPlus } from "@tabler/icons-react";
import type { GearcaseBacklash, GearcaseVerdict, Refused } from "../../api/client";
import { Waiting } from "../../app/Waiting";
import { bind } from "../../form/bind";
import { fixed } from "../../format/numbers";
import { Cautions, LastTime, Plate } from "../answer";
import { KeepWithUnit } from "../KeepWithUnit";
import { useLast } from "../useLast";
import classes from "./gearcase.module.css";
import { type Assembly, type Form, inUnit, type Play, playFrom, playOf, usePlay } from "./model";

type Props = {
  form: Form;
  set: (v: Partial<Form>) => void;
  unit?: number;
  teeth?: { gear?: number; pinion?: number };
};

/** A length in print, in the bench's unit. */
const sizeIn = (unit: "mm" | "in") => (mm: number) => (unit === "in" ? fixed(mm / 25.4, 4) : fixed(mm, 3));

/** After assembly: is the backlash good, and if not, which shim comes next. */
export function PlayPanel({ form, set, unit, teeth }: Props) {
  const p = form[form.gear];
  const put = (v: Partial<Play>) => set({ [form.gear]: { ...p, ...v } });
  const q = playOf(form, teeth);
  const missing = [
    (!q.mesh.teeth || !q.mesh.mate) && "teeth on this gear and its pinion",
    !q.thicker && "which way a thicker shim moves this gear",
    (!p.low.trim() || !p.high.trim()) && "the backlash range in the manual",
    !p.assemblies.some((a) => a.shim.trim() && a.readings.trim()) && "the shim installed, and the dial reading",
  ];
  const ready = missing.every((m) => !m);
  const { answer, refused, error } = usePlay(q, ready);
  const ask = { form, set, unit, teeth, p, put, q, refused };
  return (
    <div className={classes.split}>
      <section className={classes.ask} aria-label="Trials">
        <Ask {...ask} />
        <Assemblies {...ask} next={answer?.next_mm} />
      </section>
      <section aria-label="Verdict" aria-live="polite">
        {!answer && <Waiting title="Good, or the next shim" missing={missing} error={error} />}
        {answer && <Verdict answer={answer} form={form} p={p} put={put} q={q} unit={unit} />}
      </section>
    </div>
  );
}

type AskProps = Props & { p: Play; put: (v: Partial<Play>) => void; q: GearcaseBacklash; refused?: Refused };

/** The mesh, the manual's range and the dial. */
function Ask({ form, set, unit, teeth, p, put, q, refused }: AskProps) {
  const lengthUnit = p.unit ?? "mm";
  const last = useLast(unit, "backlash");
  const was = last?.question as unknown as GearcaseBacklash | undefined;
  const which = bind<Form, GearcaseBacklash>(form, set, refused);
  const f = bind<Play, GearcaseBacklash>({ ...p, thicker: q.thicker, unit: lengthUnit }, put, refused, {
    numeric: true,
  });
  return (
    <>
      {which.segments(
        "Gear",
        "gear",
        [
          { value: "forward", label: "Forward gear" },
          { value: "reverse", label: "Reverse gear" },
        ],
        { bare: true },
      )}
      {f.choice("Figures are in", "unit", [
        { value: "mm", label: "millimeters" },
        { value: "in", label: "inches" },
      ])}
      {last && was && p.assemblies.every((a) => !a.shim.trim()) && was.gear === `${form.gear} gear` && (
        <LastTime last={last} onTake={() => put(playFrom(was))} />
      )}
      <div className="four">
        {f.text("Gear teeth", "teeth", { field: "mesh/teeth", placeholder: teeth?.gear ? String(teeth.gear) : "27" })}
        {f.text("Pinion's teeth", "mate", {
          field: "mesh/mate",
          placeholder: teeth?.pinion ? String(teeth.pinion) : "13",
        })}
        {f.text("Spiral angle, °", "spiral", { field: "mesh/spiral_deg", placeholder: "0, straight" })}
        {f.choice("Thicker shim moves the gear", "thicker", [
          { value: "", label: "choose" },
          { value: "away", label: "away" },
          { value: "toward", label: "toward" },
        ])}
      </div>
      <div className="four">
        {f.text(`Backlash in the manual from, ${lengthUnit}`, "low", { field: "low_mm" })}
        {f.text("to", "high", { field: "high_mm" })}
        {f.text(`Dial on an arm of, ${lengthUnit}`, "arm", { field: "arm_mm", placeholder: "at the teeth" })}
        {f.text(`Pitch radius, ${lengthUnit}`, "pitch", { field: "pitch_mm" })}
      </div>
    </>
  );
}

/** Each time it was together: what was in it, and what the dial showed. */
function Assemblies({ p, put, refused, next }: AskProps & { next?: number }) {
  const unit = p.unit ?? "mm";
  const again = () =>
    put({ assemblies: [...p.assemblies, { shim: next === undefined ? "" : inUnit(next, unit), readings: "" }] });
  return (
    <>
      <table className="figures">
        <thead>
          <tr>
            <th scope="col">Together</th>
            <th scope="col">Shims installed, {unit}</th>
            <th scope="col">Dial around the gear, {unit}</th>
          </tr>
        </thead>
        <tbody>
          {p.assemblies.map((a, i) => {
            const row = (v: Partial<Assembly>) =>
              put({ assemblies: p.assemblies.map((x, k) => (k === i ? { ...x, ...v } : x)) });
            const f = bind<Assembly, GearcaseBacklash["assemblies"][number]>(a, row, refused, {
              at: `/assemblies/${i}`,
              numeric: true,
            });
            return (
              // biome-ignore lint/suspicious/noArrayIndexKey: assemblies are known by their order
              <tr key={i}>
                <th scope="row">{i + 1}</th>
                <td>{f.text(`Shims, trial ${i + 1}`, "shim", { field: "shim_mm", bare: true })}</td>
                <td>
                  {f.text(`Dial, trial ${i + 1}`, "readings", {
                    field: "readings_mm",
                    bare: true,
                    placeholder: unit === "in" ? ".009 .010 .009" : "0.22 0.24 0.23",
                  })}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <Button
        variant="default"
        leftSection={<IconPlus size={16} />}
        disabled={p.assemblies.length >= 40}
        onClick={again}
      >
        Another trial
      </Button>
    </>
  );
}

type VerdictProps = {
  answer: GearcaseVerdict;
  form: Form;
  p: Play;
  put: (v: Partial<Play>) => void;
  q: GearcaseBacklash;
  unit?: number;
};

function Verdict({ answer, form, p, put, q, unit }: VerdictProps) {
  const lengthUnit = p.unit ?? "mm";
  const size = sizeIn(lengthUnit);
  const times = answer.measured.length === 1 ? "time" : "times";
  const lookedAgain = (sure: boolean) =>
    put({ assemblies: p.assemblies.map((a, i) => (i === p.assemblies.length - 1 ? { ...a, sure } : a)) });
  return (
    <>
      <Plate
        kicker={`${answer.done ? "✓" : "→"} ${form.gear} gear, together ${answer.measured.length} ${times}`}
        says={answer.sentence}
      >
        {answer.sentence.includes("checked again") && (
          <Checkbox
            label="Checked again: it is right"
            checked={p.assemblies.at(-1)?.sure ?? false}
            onChange={(e) => lookedAgain(e.currentTarget.checked)}
          />
        )}
        {answer.stack && answer.next_mm !== undefined && (
          <p>
            From the box: {answer.stack.pieces.map(size).join(" + ") || "no shim at all"} ={" "}
            {size(answer.stack.total_mm)} {lengthUnit}
          </p>
        )}
        <small>{answer.formula}</small>
      </Plate>
      {answer.warnings.map((w) => (
        <p key={w} className={classes.warn}>
          △ {w}
        </p>
      ))}
      <Band answer={answer} low={Number(q.low_mm)} high={Number(q.high_mm)} size={size} unit={lengthUnit} />
      <div className="row">
        <KeepWithUnit unit={unit} record={{ kind: "backlash", backlash: q }}>
          Save this result
        </KeepWithUnit>
      </div>
      <details>
        <summary>Hardly any play, or a gap?</summary>
        {answer.schools.map((s) => (
          <p key={s}>{s}</p>
        ))}
      </details>
      <Cautions list={answer.cautions} />
    </>
  );
}

/** Every assembly against the range in the manual, and what the next one should come to. */
type BandProps = {
  answer: GearcaseVerdict;
  low: number;
  high: number;
  size: (mm: number) => string;
  unit: string;
};

function Band({ answer, low, high, size, unit }: BandProps) {
  const top = Math.max(high * 1.5, ...answer.measured.map((m) => m.greatest_mm * 1.1));
  const x = (v: number) => 60 + (v / top) * 440;
  const rows = answer.measured.length + (answer.expected_mm === undefined ? 0 : 1);
  const h = 34 + rows * 26;
  return (
    <svg
      viewBox={`0 0 560 ${h}`}
      className={classes.band}
      role="img"
      aria-label="Backlash against the range in the manual"
    >
      <rect x={x(low)} y={14} width={x(high) - x(low)} height={h - 34} className={classes.bandIn} />
      {[0, low, high].map((v) => (
        <g key={v}>
          <path d={`M${x(v)} 14V${h - 18}`} className={classes.tick} />
          <text x={x(v)} y={h - 4} className={classes.size}>
            {size(v)}
          </text>
        </g>
      ))}
      {answer.measured.map((m, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: assemblies are known by their order
        <g key={i}>
          <text x={50} y={34 + i * 26} className={classes.name}>
            {size(m.shim_mm)}
          </text>
          <path d={`M${x(m.least_mm)} ${30 + i * 26}H${x(m.greatest_mm)}`} className={classes.range} />
          <circle
            cx={x(m.backlash_mm)}
            cy={30 + i * 26}
            r={6}
            className={m.state === "in" ? classes.dotIn : classes.dot}
          />
          <text x={x(Math.max(m.greatest_mm, m.backlash_mm)) + 12} y={34 + i * 26} className={classes.label}>
            {size(m.backlash_mm)} {m.state === "in" ? "✓" : m.state === "tight" ? "tight" : "loose"}
          </text>
        </g>
      ))}
      {answer.expected_mm !== undefined && (
        <g>
          <text x={50} y={34 + (rows - 1) * 26} className={classes.name}>
            {size(answer.next_mm ?? 0)}
          </text>
          <path
            d={`M${x(Math.max(0, answer.expected_mm - (answer.spread_mm ?? 0)))} ${30 + (rows - 1) * 26}H${x(answer.expected_mm + (answer.spread_mm ?? 0))}`}
            className={classes.expected}
          />
          <text
            x={x(answer.expected_mm + (answer.spread_mm ?? 0)) + 12}
            y={34 + (rows - 1) * 26}
            className={classes.label}
          >
            expected
          </text>
        </g>
      )}
      <text x={4} y={10} className={classes.label}>
        shim, {unit}
      </text>
    </svg>
  );
}
