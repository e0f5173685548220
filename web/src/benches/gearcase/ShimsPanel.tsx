import { Checkbox, Textarea } from "@mantine/core";
import type { GearcaseAnswer, GearcaseGear, GearcaseRequest, Refused } from "../../api/client";
import { Waiting } from "../../app/Waiting";
import { StampInput, useStamp } from "../../fields/StampInput";
import { bind } from "../../form/bind";
import { fixed } from "../../format/numbers";
import { Asks, Cautions, LastTime, Plate } from "../answer";
import { KeepWithUnit } from "../KeepWithUnit";
import { useLast } from "../useLast";
import classes from "./gearcase.module.css";
import { type Form, formOf, type Place, shimsOf, useShims } from "./model";
import { StampExample } from "./StampExample";
import { StampRead } from "./StampRead";

type Props = { form: Form; set: (v: Partial<Form>) => void; unit?: number };

const gearsOf = (form: Form) => form.places.map(({ id, name }) => ({ id, name }));

/** The stamp as it stands on the case, the manual's words for it, the box; and a stack for each gear. */
export function ShimsPanel({ form, set, unit }: Props) {
  const missing = [
    !form.stamp.trim() && "the stamp on the case",
    !form.unit && "stamp units, as the manual says",
    !form.convention && "what a plus says, as the manual says",
    form.places.some((p) => !p.nominal.trim()) && "the manual's nominal shims",
    form.places.some((p) => !p.thicker) && "which way a thicker shim moves each gear",
  ];
  const ready = missing.every((m) => !m);
  const { answer, refused, error } = useShims(form, ready);
  const heard = useStamp(form.stamp, form.unit, gearsOf(form)).answer;
  return (
    <div className={classes.split}>
      <Ask form={form} set={set} unit={unit} answer={answer} refused={refused} />
      <section aria-label="Stacks" aria-live="polite">
        {!form.stamp.trim() && <StampExample />}
        {!answer && heard?.head && <StampRead heard={heard} />}
        {!answer && <Waiting title="A stack for each gear" missing={missing} error={error} />}
        {answer && (
          <>
            <Plate kicker="By the stamp" says={answer.sentence}>
              {answer.notes.map((n) => (
                <p key={n} className="decide-sure">
                  {n}
                </p>
              ))}
            </Plate>
            <Asks list={answer.asks} />
            <div className={classes.gears}>
              {answer.gears.map((g) => (
                <Stack key={g.id} gear={g} />
              ))}
            </div>
            {answer.box.length > 0 && (
              <p className="dim">
                Left in the box: {answer.box.map((s) => `${fixed(s.mm, 3)} × ${s.left}`).join(", ")}
              </p>
            )}
            <div className="row">
              <KeepWithUnit
                unit={unit}
                record={{ kind: "shims", shims: shimsOf(form) }}
                loose="They are saved with a unit."
              >
                Save these shims
              </KeepWithUnit>
            </div>
            <Cautions list={answer.cautions} />
          </>
        )}
      </section>
    </div>
  );
}

/** The stamp, the manual's words for it, and the box. */
function Ask({ form, set, unit, answer, refused }: Props & { answer?: GearcaseAnswer; refused?: Refused }) {
  const last = useLast(unit, "shims");
  const gears = gearsOf(form);
  const f = bind<Form, GearcaseRequest>(form, set, refused);
  return (
    <section className={classes.ask} aria-label="Stamp and box">
      {last && form.stamp.trim() === "" && (
        <LastTime last={last} onTake={() => set(formOf(last.question as unknown as GearcaseRequest))} />
      )}
      <StampInput
        label="Stamp on the case"
        size="lg"
        placeholder="P -3  F +1  R 0"
        value={form.stamp}
        onChange={(stamp) => set({ stamp })}
        unit={form.unit}
        gears={gears}
        error={f.fault("stamp")}
      />
      <StampInput
        label="Stamps on the gears, if any"
        placeholder="F -2"
        value={form.gearStamp}
        onChange={(gearStamp) => set({ gearStamp })}
        unit={form.unit}
        gears={gears}
        some
        error={f.fault("gear_stamp")}
      />
      <div className="two">
        {f.choice("Stamp units", "unit", [
          { value: "", label: "as the manual says" },
          { value: "0.01 mm", label: "hundredths of a millimeter" },
          { value: "0.001 in", label: "thousandths of an inch" },
        ])}
        {f.choice("A plus says", "convention", [
          { value: "", label: "as the manual says" },
          { value: "plus_thicker", label: "add it to the nominal shim" },
          { value: "plus_thinner", label: "subtract it from the nominal shim" },
          { value: "plus_far", label: "the gear sits that much too far out" },
          { value: "plus_near", label: "the gear sits that much too close" },
        ])}
      </div>
      <Places form={form} set={set} refused={refused} />
      <Textarea
        label="Shims in the box"
        description="thickness, unit if not mm, and how many: 0.05 x4, 0.10 x6, .004in x2"
        autosize
        minRows={2}
        value={form.box}
        onChange={(e) => set({ box: e.currentTarget.value })}
        error={f.fault("box")}
      />
      <div className="two">
        {f.choice("Most shims in a stack", "most", ["1", "2", "3", "4", "5", "6", "7", "8"], {
          field: "most_pieces",
        })}
        {f.choice("If the box can't make every stack", "by", [
          { value: "", label: "fewest pieces" },
          { value: "least_largest", label: "smallest largest error" },
          { value: "least_sum", label: "smallest sum of errors" },
          { value: "most_exact", label: "most gears exact" },
        ])}
      </div>
      {(form.sure || answer?.asks.some((a) => a.includes("More than a millimeter"))) && (
        <Checkbox
          label="Checked again: more than a millimeter is right"
          checked={form.sure}
          onChange={(e) => set({ sure: e.currentTarget.checked })}
        />
      )}
    </section>
  );
}

/** The manual's shim of each gear. */
function Places({ form, set, refused }: Omit<Props, "unit"> & { refused?: Refused }) {
  return (
    <table className={`figures ${classes.places}`}>
      <thead>
        <tr>
          <th scope="col">Gear</th>
          <th scope="col">Nominal shim, mm</th>
          <th scope="col">Thicker shim moves the gear</th>
          <th scope="col">within ±, mm</th>
        </tr>
      </thead>
      <tbody>
        {form.places.map((p, i) => {
          const put = (v: Partial<Place>) => set({ places: form.places.map((x, k) => (k === i ? { ...x, ...v } : x)) });
          const f = bind<Place, GearcaseRequest["places"][number]>(p, put, refused, {
            at: `/places/${i}`,
            numeric: true,
          });
          return (
            <tr key={p.id}>
              <th scope="row">
                {p.id} · {p.name}
              </th>
              <td data-th="Nominal shim, mm">
                {f.text(`${p.name}: nominal shim`, "nominal", { field: "nominal_mm", bare: true })}
              </td>
              <td data-th="Thicker shim moves the gear">
                {f.choice(
                  `Thicker shim moves the ${p.name}`,
                  "thicker",
                  [
                    { value: "", label: "choose" },
                    { value: "away", label: "away from its mesh" },
                    { value: "toward", label: "toward its mesh" },
                  ],
                  { bare: true },
                )}
              </td>
              <td data-th="within ±, mm">
                {f.text(`${p.name}: tolerance`, "tol", { field: "tol_mm", bare: true, placeholder: "0.02" })}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** One gear's stack, drawn to scale, with the sentence that shows a wrong sign. */
function Stack({ gear }: { gear: GearcaseGear }) {
  const pieces = gear.stack?.pieces ?? [];
  const scale = 190 / Math.max(1.2, gear.want_mm, gear.stack?.total_mm ?? 0);
  let x = 46;
  return (
    <article className={classes.gear}>
      <h3>
        {gear.id} · {gear.name} <b>{fixed(gear.want_mm, 3)} mm</b>
      </h3>
      <p>{gear.sentence}</p>
      <svg viewBox="0 0 260 58" className={classes.stack} role="img" aria-label={gear.text || "no box yet"}>
        <path d="M46 4V54M40 54H52" className={classes.ledge} />
        {pieces.map((p, i) => {
          const w = Math.max(3, p * scale);
          const at = x;
          x += w;
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: two shims of a stack may be alike
            <g key={i}>
              <rect x={at} y={8} width={w} height={32} className={classes.shim} />
              {w >= 34 && (
                <text x={at + w / 2} y={53} className={classes.size}>
                  {fixed(p, 2)}
                </text>
              )}
            </g>
          );
        })}
        <path d={`M${46 + gear.want_mm * scale} 2V44`} className={classes.want} />
      </svg>
      {gear.text && <p className={gear.stack?.within ? "" : "trouble"}>{gear.text}</p>}
      <small className="dim">{gear.formula}</small>
    </article>
  );
}
