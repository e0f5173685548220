import { Button, Checkbox, NativeSelect, SegmentedControl, TextInput } from "@mantine/core";
import type { ReaderEye } from "../../../api/client";
import { useKept } from "../../../app/local";
import { Flange } from "../../../drawing/Flange";
import { type Read, ValueField } from "../../../fields/ValueField";
import { fixed, lengthUnit, typed } from "../../../format/numbers";
import classes from "../identify.module.css";
import type { DraftShaft } from "./draft";
import type { FieldsProps } from "./method";
import { parted } from "./shaft";

type Props = FieldsProps & { name: string; path: string };

/** Whole turns and what was left of a turn: drawn, measured or in words. */
export function ShaftInput({ draft, set: setDraft, name, path, error, onCount, units }: Props) {
  const value = draft.shaft;
  const set = (v: Partial<DraftShaft>) => setDraft({ shaft: { ...value, ...v } });
  const u = lengthUnit(units);
  return (
    <fieldset className={classes.shaftInput}>
      <legend>{name}</legend>
      {value.how !== "words" && (
        <div className={classes.withButton}>
          <TextInput
            label="Whole turns"
            inputMode="numeric"
            value={value.whole}
            onChange={(e) => set({ whole: e.currentTarget.value })}
            onBlur={() => set(parted(value))}
            error={error(`${path}/whole`)}
          />
          <Button variant="default" onClick={() => onCount("shaft")}>
            Count turns
          </Button>
        </div>
      )}
      <SegmentedControl
        size="xs"
        fullWidth
        aria-label="How the partial turn was judged"
        value={value.how}
        onChange={(how) => set({ how: how as DraftShaft["how"] })}
        data={[
          { value: "eye", label: "Partial turn: by eye" },
          { value: "arc", label: "Partial turn: by tape" },
          { value: "words", label: "In words" },
        ]}
      />
      {value.how === "eye" && (
        <div className={classes.byEye}>
          <Flange value={value.fraction} short={value.short} onChange={(fraction) => set({ fraction })} />
          <div className="stack">
            <ValueField
              label="Tenths of a turn"
              inputMode="decimal"
              value={Math.round(value.fraction * 1000) / 100}
              read={readTenths}
              onSet={(n) => set({ fraction: (n ?? 0) / 10 })}
              error={error(`${path}/remainder/fraction`)}
            />
            <PastShort value={value} set={set} />
            <span className="dim">
              {value.fraction === 0
                ? "Back on the mark"
                : `${fixed(value.fraction, 2)} turn ${value.short ? "short of" : "past"} the whole turns`}
            </span>
          </div>
          <OwnEye value={value} set={set} />
        </div>
      )}
      {value.how === "arc" && (
        <div className={classes.byArc}>
          <TextInput
            label={`Arc along the rim, ${u}`}
            inputMode="decimal"
            value={value.arc}
            onChange={(e) => set({ arc: e.currentTarget.value })}
            error={error(`${path}/remainder/arc_mm`)}
          />
          <TextInput
            label={`Rim, ${u}`}
            inputMode="decimal"
            value={value.rim}
            onChange={(e) => set({ rim: e.currentTarget.value })}
            error={error(`${path}/remainder/rim_mm`)}
          />
          <NativeSelect
            label="The rim was measured as"
            value={value.rimIs}
            onChange={(e) => set({ rimIs: e.currentTarget.value as DraftShaft["rimIs"] })}
            data={[
              { value: "circumference", label: "circumference (tape around)" },
              { value: "diameter", label: "diameter (straight across)" },
            ]}
          />
          <PastShort value={value} set={set} />
        </div>
      )}
      {value.how === "words" && (
        <TextInput
          label="Turns, in your own words"
          placeholder="4 and a bit"
          value={value.words}
          onChange={(e) => set({ words: e.currentTarget.value })}
          error={error(`${path}/words`)}
        />
      )}
    </fieldset>
  );
}

const noEye: ReaderEye | null = null;

/** What practice has shown of the reader's own eye, offered and never used unasked. */
function OwnEye({ value, set }: { value: DraftShaft; set: (v: Partial<DraftShaft>) => void }) {
  const [eye] = useKept<ReaderEye | null>("zorvel.practice.eye", noEye);
  if (!eye && !value.eye) return null;
  const e = value.eye ?? eye;
  if (!e) return null;
  const lean =
    Math.abs(e.bias) < 0.005
      ? "no lean"
      : `${fixed(Math.abs(100 * e.bias), 1)} ${e.bias > 0 ? "too much" : "too little"}`;
  return (
    <Checkbox
      label={`Use my own eye: ±${fixed(100 * e.spread, 1)} hundredths, ${lean}, by ${e.cards} cards`}
      checked={value.eye !== undefined}
      onChange={(c) => set({ eye: c.currentTarget.checked ? e : undefined })}
    />
  );
}

/** Tenths of a turn: less than ten of them. */
const readTenths: Read<number> = (text) => {
  const n = typed(text);
  if (n === undefined) return { value: 0 };
  return n >= 0 && n < 10 ? { value: n } : { expected: "From 0 to 9.9 tenths; whole turns go above" };
};

function PastShort({ value, set }: { value: DraftShaft; set: (v: Partial<DraftShaft>) => void }) {
  return (
    <SegmentedControl
      size="xs"
      aria-label="Past or short of the last whole turn"
      value={value.short ? "short" : "past"}
      onChange={(v) => set({ short: v === "short" })}
      data={[
        { value: "past", label: "Past the turn" },
        { value: "short", label: "Short of it" },
      ]}
    />
  );
}
