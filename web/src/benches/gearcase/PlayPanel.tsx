import { Button, Checkbox, NativeSelect, SegmentedControl, TextInput } from "@mantine/core";
import { IconPlus } from "@tabler/icons-react";
import type { GearcaseBacklash, GearcaseVerdict } from "../../api/client";
import { Waiting } from "../../app/Waiting";
import { fixed, when } from "../../format/numbers";
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

/** After assembly: is the backlash good, and if not, which shim comes next. */
export function PlayPanel({ form, set, unit, teeth }: Props) {
  const p = form[form.gear];
  const put = (v: Partial<Play>) => set({ [form.gear]: { ...p, ...v } });
  const q = playOf(form, teeth);
  const lengthUnit = p.unit ?? "mm";
  const size = (mm: number) => (lengthUnit === "in" ? fixed(mm / 25.4, 4) : fixed(mm, 3));
  const missing = [
    (!q.mesh.teeth || !q.mesh.mate) && "teeth of this gear and of its pinion",
    !q.thicker && "which way a thicker shim moves this gear",
    (!p.low.trim() || !p.high.trim()) && "the maker's band of backlash",
    !p.assemblies.some((a) => a.shim.trim() && a.readings.trim()) && "the shim that is in it, and what the dial showed",
  ];
  const ready = missing.every((m) => !m);
  const { answer, refused, error } = usePlay(q, ready);
  const last = useLast(unit, "backlash");
  const was = last?.question as unknown as GearcaseBacklash | undefined;
  const text = (label: string, k: keyof Omit<Play, "assemblies">, field: string, placeholder?: string) => (
    <TextInput
      label={label}
      placeholder={placeholder}
      inputMode="decimal"
      autoComplete="off"
      value={p[k]}
      onChange={(e) => put({ [k]: e.currentTarget.value })}
      error={refused?.field(`/${field}`)}
    />
  );
  const row = (i: number, v: Partial<Assembly>) =>
    put({ assemblies: p.assemblies.map((a, k) => (k === i ? { ...a, ...v } : a)) });
  return (
    <div className={classes.split}>
      <section className={classes.ask} aria-label="What was measured">
        <SegmentedControl
          size="md"
          aria-label="Gear"
          value={form.gear}
          onChange={(v) => set({ gear: v as Form["gear"] })}
          data={[
            { value: "forward", label: "Forward gear" },
            { value: "reverse", label: "Reverse gear" },
          ]}
        />
        <NativeSelect
          label="Figures are in"
          value={lengthUnit}
          onChange={(e) => put({ unit: e.currentTarget.value as Play["unit"] })}
          data={[
            { value: "mm", label: "millimeters" },
            { value: "in", label: "inches" },
          ]}
        />
        {last && was && p.assemblies.every((a) => !a.shim.trim()) && was.gear === `${form.gear} gear` && (
          <p className={classes.last}>
            Last time, {when(last.at)}, {last.by}: {last.title}{" "}
            <button type="button" className="linklike" onClick={() => put(playFrom(was))}>
              Start from it
            </button>
          </p>
        )}
        <div className="four">
          {text("Its teeth", "teeth", "mesh/teeth", teeth?.gear ? String(teeth.gear) : "27")}
          {text("Pinion's teeth", "mate", "mesh/mate", teeth?.pinion ? String(teeth.pinion) : "13")}
          {text("Spiral angle, °", "spiral", "mesh/spiral_deg", "0, straight")}
          <NativeSelect
            label="Thicker moves it"
            value={q.thicker}
            onChange={(e) => put({ thicker: e.currentTarget.value })}
            error={refused?.field("/thicker")}
            data={[
              { value: "", label: "choose" },
              { value: "away", label: "away" },
              { value: "toward", label: "toward" },
            ]}
          />
        </div>
        <div className="four">
          {text(`Maker's band from, ${lengthUnit}`, "low", "low_mm")}
          {text("to", "high", "high_mm")}
          {text(`Dial on an arm of, ${lengthUnit}`, "arm", "arm_mm", "at the teeth")}
          {text(`Pitch radius, ${lengthUnit}`, "pitch", "pitch_mm")}
        </div>
        <table className="figures">
          <thead>
            <tr>
              <th scope="col">Together</th>
              <th scope="col">Shims in it, {lengthUnit}</th>
              <th scope="col">Dial around the gear, {lengthUnit}</th>
            </tr>
          </thead>
          <tbody>
            {p.assemblies.map((a, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: assemblies are known by their order
              <tr key={i}>
                <th scope="row">{i + 1}</th>
                <td>
                  <TextInput
                    aria-label={`Shims of assembly ${i + 1}`}
                    inputMode="decimal"
                    value={a.shim}
                    onChange={(e) => row(i, { shim: e.currentTarget.value })}
                    error={refused?.field(`/assemblies/${i}/shim_mm`)}
                  />
                </td>
                <td>
                  <TextInput
                    aria-label={`Dial of assembly ${i + 1}`}
                    inputMode="decimal"
                    placeholder={lengthUnit === "in" ? ".009 .010 .009" : "0.22 0.24 0.23"}
                    value={a.readings}
                    onChange={(e) => row(i, { readings: e.currentTarget.value })}
                    error={refused?.within(`/assemblies/${i}/readings_mm`)}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <Button
          variant="default"
          leftSection={<IconPlus size={16} />}
          disabled={p.assemblies.length >= 40}
          onClick={() =>
            put({
              assemblies: [
                ...p.assemblies,
                { shim: answer?.next_mm === undefined ? "" : inUnit(answer.next_mm, lengthUnit), readings: "" },
              ],
            })
          }
        >
          Together again
        </Button>
      </section>
      <section aria-label="Verdict" aria-live="polite">
        {!answer && <Waiting title="Good, or the next shim" missing={missing} error={error} />}
        {answer && (
          <>
            <div className="decide-plate">
              <div>
                <p className="decide-kicker">
                  {answer.done ? "✓" : "→"} {form.gear} gear, together {answer.measured.length}{" "}
                  {answer.measured.length === 1 ? "time" : "times"}
                </p>
                <h2>{answer.sentence}</h2>
                {answer.sentence.includes("looked at again") && (
                  <Checkbox
                    label="Looked at again: it is meant"
                    checked={p.assemblies.at(-1)?.sure ?? false}
                    onChange={(e) => row(p.assemblies.length - 1, { sure: e.currentTarget.checked })}
                  />
                )}
                {answer.stack && answer.next_mm !== undefined && (
                  <p>
                    From the box: {answer.stack.pieces.map(size).join(" + ") || "no shim at all"} ={" "}
                    {size(answer.stack.total_mm)} {lengthUnit}
                  </p>
                )}
                <small>{answer.formula}</small>
              </div>
            </div>
            {answer.warnings.map((w) => (
              <p key={w} className={classes.warn}>
                △ {w}
              </p>
            ))}
            <Band answer={answer} low={Number(q.low_mm)} high={Number(q.high_mm)} size={size} unit={lengthUnit} />
            <div className="row">
              <KeepWithUnit unit={unit} record={{ kind: "backlash", backlash: q }}>
                Record where it stands
              </KeepWithUnit>
            </div>
            <details>
              <summary>Hardly any play, or a gap?</summary>
              {answer.schools.map((s) => (
                <p key={s}>{s}</p>
              ))}
            </details>
            <ul className="decide-cautions">
              {answer.cautions.map((c) => (
                <li key={c}>{c}</li>
              ))}
            </ul>
          </>
        )}
      </section>
    </div>
  );
}

/** Every assembly against the maker's band, and what the next one should come to. */
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
    <svg viewBox={`0 0 560 ${h}`} className={classes.band} role="img" aria-label="Backlash against the maker's band">
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
