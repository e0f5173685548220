import { Checkbox, NativeSelect, Textarea, TextInput } from "@mantine/core";
import type { GearcaseGear, GearcaseRequest } from "../../api/client";
import { Waiting } from "../../app/Waiting";
import { StampInput } from "../../fields/StampInput";
import { fixed, when } from "../../format/numbers";
import { KeepWithUnit } from "../KeepWithUnit";
import { useLast } from "../useLast";
import classes from "./gearcase.module.css";
import { type Form, formOf, type Place, shimsOf, useShims } from "./model";

type Props = { form: Form; set: (v: Partial<Form>) => void; unit?: number };

/** The stamp as it stands on the case, the manual's words for it, the box; and a stack for each gear. */
export function ShimsPanel({ form, set, unit }: Props) {
  const missing = [
    !form.stamp.trim() && "the stamp as it stands on the case",
    !form.unit && "its unit, as the manual says",
    !form.convention && "what a plus says, as the manual says",
    form.places.some((p) => !p.nominal.trim()) && "the manual's nominal shims",
    form.places.some((p) => !p.thicker) && "which way a thicker shim moves each gear",
  ];
  const ready = missing.every((m) => !m);
  const { answer, refused, error } = useShims(form, ready);
  const last = useLast(unit, "shims");
  const gears = form.places.map(({ id, name }) => ({ id, name }));
  const put = (i: number, v: Partial<Place>) =>
    set({ places: form.places.map((p, k) => (k === i ? { ...p, ...v } : p)) });
  return (
    <div className={classes.split}>
      <section className={classes.ask} aria-label="Stamp and box">
        {last && form.stamp.trim() === "" && (
          <p className={classes.last}>
            Last time, {when(last.at)}, {last.by}: {last.title}{" "}
            <button
              type="button"
              className="linklike"
              onClick={() => set(formOf(last.question as unknown as GearcaseRequest))}
            >
              Start from it
            </button>
          </p>
        )}
        <StampInput
          label="Stamp on the case"
          size="lg"
          placeholder="P -3  F +1  R 0"
          value={form.stamp}
          onChange={(stamp) => set({ stamp })}
          unit={form.unit}
          gears={gears}
          error={refused?.field("/stamp")}
        />
        <StampInput
          label="Stamps on the gears, if any"
          placeholder="F -2"
          value={form.gearStamp ?? ""}
          onChange={(gearStamp) => set({ gearStamp })}
          unit={form.unit}
          gears={gears}
          some
          error={refused?.field("/gear_stamp")}
        />
        <div className="two">
          <NativeSelect
            label="Stamp units"
            value={form.unit}
            onChange={(e) => set({ unit: e.currentTarget.value })}
            error={refused?.field("/unit")}
            data={[
              { value: "", label: "as the manual says" },
              { value: "0.01 mm", label: "hundredths of a millimeter" },
              { value: "0.001 in", label: "thousandths of an inch" },
            ]}
          />
          <NativeSelect
            label="A plus says"
            value={form.convention}
            onChange={(e) => set({ convention: e.currentTarget.value })}
            error={refused?.field("/convention")}
            data={[
              { value: "", label: "as the manual says" },
              { value: "plus_thicker", label: "add it to the nominal shim" },
              { value: "plus_thinner", label: "take it from the nominal shim" },
              { value: "plus_far", label: "the gear would sit that much too far" },
              { value: "plus_near", label: "the gear would sit that much too near" },
            ]}
          />
        </div>
        <table className={`figures ${classes.places}`}>
          <thead>
            <tr>
              <th scope="col">Gear</th>
              <th scope="col">Nominal shim, mm</th>
              <th scope="col">A thicker shim moves it</th>
              <th scope="col">within ±, mm</th>
            </tr>
          </thead>
          <tbody>
            {form.places.map((p, i) => (
              <tr key={p.id}>
                <th scope="row">
                  {p.id} · {p.name}
                </th>
                <td>
                  <TextInput
                    aria-label={`Nominal shim of the ${p.name}`}
                    inputMode="decimal"
                    value={p.nominal}
                    onChange={(e) => put(i, { nominal: e.currentTarget.value })}
                    error={refused?.field(`/places/${i}/nominal_mm`)}
                  />
                </td>
                <td>
                  <NativeSelect
                    aria-label={`A thicker shim moves the ${p.name}`}
                    value={p.thicker}
                    onChange={(e) => put(i, { thicker: e.currentTarget.value })}
                    error={refused?.field(`/places/${i}/thicker`)}
                    data={[
                      { value: "", label: "choose" },
                      { value: "away", label: "away from its mesh" },
                      { value: "toward", label: "toward its mesh" },
                    ]}
                  />
                </td>
                <td>
                  <TextInput
                    aria-label={`Tolerance of the ${p.name}`}
                    inputMode="decimal"
                    placeholder="0.02"
                    value={p.tol}
                    onChange={(e) => put(i, { tol: e.currentTarget.value })}
                    error={refused?.field(`/places/${i}/tol_mm`)}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <Textarea
          label="Shims in the box"
          description="thickness, unit if it is not mm, and how many: 0.05 x4, 0.10 x6, .004in x2"
          autosize
          minRows={2}
          value={form.box}
          onChange={(e) => set({ box: e.currentTarget.value })}
          error={refused?.within("/box")}
        />
        <div className="two">
          <NativeSelect
            label="Pieces in a stack, at most"
            value={form.most}
            onChange={(e) => set({ most: e.currentTarget.value })}
            data={["1", "2", "3", "4", "5", "6", "7", "8"]}
          />
          <NativeSelect
            label="Where the box can't serve all"
            value={form.by ?? ""}
            onChange={(e) => set({ by: e.currentTarget.value })}
            error={refused?.field("/by")}
            data={[
              { value: "", label: "fewest pieces" },
              { value: "least_largest", label: "smallest largest error" },
              { value: "least_sum", label: "smallest sum of errors" },
              { value: "most_exact", label: "most gears exact" },
            ]}
          />
        </div>
        {(form.sure || answer?.asks.some((a) => a.includes("More than a millimeter"))) && (
          <Checkbox
            label="Looked again: more than a millimeter is meant"
            checked={form.sure}
            onChange={(e) => set({ sure: e.currentTarget.checked })}
          />
        )}
      </section>
      <section aria-label="Stacks" aria-live="polite">
        {!answer && <Waiting title="A stack for each gear" missing={missing} error={error} />}
        {answer && (
          <>
            <div className="decide-plate">
              <div>
                <p className="decide-kicker">By the stamp</p>
                <h2>{answer.sentence}</h2>
                {answer.notes.map((n) => (
                  <p key={n} className="decide-sure">
                    {n}
                  </p>
                ))}
              </div>
            </div>
            {answer.asks.length > 0 && (
              <ul className={classes.asks}>
                {answer.asks.map((a) => (
                  <li key={a}>
                    <b>?</b> {a}
                  </li>
                ))}
              </ul>
            )}
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
                loose="They are kept with a unit."
              >
                Record these shims
              </KeepWithUnit>
            </div>
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
