import { NativeSelect, SegmentedControl, TextInput } from "@mantine/core";
import { useId, useState } from "react";
import { api, type TireAnswer, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { useUnits } from "../../app/units";
import { fixed, fromMM, lengthUnit } from "../../format/numbers";
import { type TireForm, tireOf } from "./model";
import { Rollout } from "./Rollout";
import classes from "./tire.module.css";

const sources: Record<string, string> = {
  rollout: "rolled out on the floor",
  revs: "maker's turns per distance",
  factor: "rolling factor (3.05 or 2.99 × diameter)",
  geometric: "π × diameter",
};

/** What a tire comes to, as soon as something is typed. */
export function useTire(t: TireForm) {
  const [units] = useUnits();
  const typedIn = Boolean(t.marking.trim() || t.rollout.trim() || t.revs.trim());
  const { answer, refused } = useCalc(
    key.tire,
    tireOf(t, units),
    (q, signal) => take(api.POST("/calc/tire", { body: { tires: [q] }, signal })),
    { ready: typedIn, rest: 250 },
  );
  return { answer: answer?.tires[0], refused };
}

/** What a tire changes against another, before anything is known of the gears. */
export function useTireChange(old: TireForm, fresh: TireForm, axle?: string) {
  const [units] = useUnits();
  const typedIn = (t: TireForm) => Boolean(t.marking.trim() || t.rollout.trim() || t.revs.trim());
  const ready = typedIn(old) && typedIn(fresh);
  const { answer, refused } = useCalc(
    key.tire,
    { tires: [tireOf(old, units), tireOf(fresh, units)], axle },
    (body, signal) => take(api.POST("/calc/tire", { body, signal })),
    { ready, rest: 250 },
  );
  return { change: ready && answer?.tires.length === 2 ? answer.changes[0] : undefined, refused };
}

type Props = {
  label: string;
  value: TireForm;
  onChange: (t: TireForm) => void;
  placeholder?: string;
  answer?: TireAnswer;
  error: (field: string) => string | undefined;
  list?: string[];
};

/** A tire: its marking, what was understood, and better sources on request. */
export function TireField({ label, value, onChange, placeholder, answer, error, list }: Props) {
  const [more, setMore] = useState(Boolean(value.rollout || value.revs || value.mass || value.use));
  const set = (v: Partial<TireForm>) => onChange({ ...value, ...v });
  const id = useId();
  return (
    <fieldset className={classes.field}>
      <TextInput
        label={label}
        placeholder={placeholder ?? "225/75R16, 31x10.50R15, 7.50-16 …"}
        value={value.marking}
        list={list ? id : undefined}
        onChange={(e) => set({ marking: e.currentTarget.value })}
        error={error("marking")}
        autoComplete="off"
        spellCheck={false}
      />
      {list && (
        <datalist id={id}>
          {list.map((x) => (
            <option key={x} value={x} />
          ))}
        </datalist>
      )}
      {answer && <Understood answer={answer} />}
      {(answer?.build_open || value.construction) && (
        <SegmentedControl
          size="xs"
          aria-label="Radial or bias, as the sidewall says"
          value={value.construction || "open"}
          onChange={(v) => set({ construction: v === "open" ? "" : (v as "radial" | "bias") })}
          data={[
            { value: "open", label: "radial or bias?" },
            { value: "radial", label: "radial" },
            { value: "bias", label: "bias" },
          ]}
        />
      )}
      <button type="button" className="linklike" aria-expanded={more} onClick={() => setMore(!more)}>
        {more ? "Marking is enough" : "Measured better? Rollout, maker's turns, weight"}
      </button>
      {more && <Measured value={value} set={set} answer={answer} error={error} />}
    </fieldset>
  );
}

/** A length by the units that are chosen. */
function useLength() {
  const [units] = useUnits();
  return (mm: number) => `${fixed(fromMM(mm, units), units === "inch" ? 2 : 0)} ${lengthUnit(units)}`;
}

function Understood({ answer }: { answer: TireAnswer }) {
  const length = useLength();
  return (
    <p className="tire-understood">
      {answer.sentence}
      <span>
        Rolls <b>{length(answer.rolling_mm.decimal)}</b> per turn ± {fixed(answer.spread_percent, 1)} % ·{" "}
        {sources[answer.source]}
      </span>
      {answer.notes.map((n) => (
        <em key={n}>{n}</em>
      ))}
    </p>
  );
}

type MeasuredProps = Pick<Props, "value" | "answer" | "error"> & { set: (v: Partial<TireForm>) => void };

/** What is better than a marking: a rollout, the maker's turns; and the weight. */
function Measured({ value, set, answer, error }: MeasuredProps) {
  const [units] = useUnits();
  const unit = lengthUnit(units);
  return (
    <div className={classes.more}>
      <Rollout />
      <div className="two">
        <TextInput
          label={`Rollout, ${unit}`}
          inputMode="decimal"
          value={value.rollout}
          onChange={(e) => set({ rollout: e.currentTarget.value })}
          error={error("rollout_mm")}
        />
        <TextInput
          label="in turns"
          inputMode="numeric"
          placeholder="1"
          value={value.turns}
          onChange={(e) => set({ turns: e.currentTarget.value })}
          error={error("rollout_turns")}
        />
        <TextInput
          label={units === "inch" ? "Maker's turns a mile" : "Maker's turns a km"}
          inputMode="decimal"
          value={value.revs}
          onChange={(e) => set({ revs: e.currentTarget.value })}
          error={error("revs_per_km") ?? error("revs_per_mile")}
        />
        <TextInput
          label="With rim, kg"
          inputMode="decimal"
          value={value.mass}
          onChange={(e) => set({ mass: e.currentTarget.value })}
          error={error("mass_kg")}
        />
      </div>
      <NativeSelect
        label="Count with"
        value={value.use}
        onChange={(e) => set({ use: e.currentTarget.value })}
        error={error("use")}
        data={[
          { value: "", label: "the best figure there is" },
          ...Object.entries(sources).map(([v, l]) => ({ value: v, label: l })),
        ]}
      />
      {answer && answer.known.length > 1 && <Known answer={answer} />}
    </div>
  );
}

/** All figures there are of the tire, and how far they are apart. */
function Known({ answer }: { answer: TireAnswer }) {
  const length = useLength();
  return (
    <table className="figures">
      <tbody>
        {answer.known.map((k) => (
          <tr key={k.source + k.formula} className={k.chosen ? "is-chosen" : ""}>
            <td>
              {k.chosen ? "✓ " : ""}
              {sources[k.source]}
            </td>
            <td className="num">{length(k.mm.decimal)}</td>
            <td>
              <small>{k.formula}</small>
            </td>
          </tr>
        ))}
        <tr>
          <td colSpan={3}>
            <small>These are {fixed(answer.apart_percent, 1)} % apart.</small>
          </td>
        </tr>
      </tbody>
    </table>
  );
}
