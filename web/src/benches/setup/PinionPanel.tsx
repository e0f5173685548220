import type { SetupAnswer, SetupQuestion } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { useKept } from "../../app/local";
import { Waiting } from "../../app/Waiting";
import { StampInput } from "../../fields/StampInput";
import { bind } from "../../form/bind";
import { useShop } from "../../shop/useShop";
import { AnswerPlate } from "../answer";
import { KeepWithUnit } from "../KeepWithUnit";
import { askSetup, type Form } from "./model";
import { RigidStack } from "./RigidStack";
import classes from "./setup.module.css";

const noSwap = { shim: "", old_mark: "", new_mark: "", mark_unit: "", old_mark_unit: "", convention: "", thicker: "" };
const markUnits = [
  { value: "0.01mm", label: "hundredths of a millimeter" },
  { value: "0.001in", label: "thousandths of an inch" },
  { value: "mm", label: "millimeters" },
  { value: "in", label: "inches" },
];

type Props = { store: string; unit?: number; form: Form; setBox: (v: string) => void };

/** Another pinion by its marks, and the stack that backs it. */
export function PinionPanel({ store, unit, form, setBox }: Props) {
  return (
    <div className={classes.split}>
      <Swap store={store} unit={unit} form={form} />
      <RigidStack store={store} unit={unit} form={form} setBox={setBox} />
    </div>
  );
}

function Swap({ store, unit, form }: Omit<Props, "setBox">) {
  const family = form.family;
  const [typed, keep] = useKept(`${store}.swap`, noSwap);
  // How this family's maker marks pinions stands in the shop's list, with its depth.
  const own = useShop("set_up_figures").find(
    (r) => r.marks && family.trim() && r.family?.toLowerCase() === family.trim().toLowerCase(),
  );
  const f = {
    ...typed,
    convention: typed.convention || own?.marks || "",
    mark_unit: typed.mark_unit || own?.mark_unit || "",
  };
  const set = (v: Partial<typeof noSwap>) => keep({ ...typed, ...v });
  const ready = [f.shim, f.old_mark, f.new_mark].every((s) => s.trim()) && Boolean(f.thicker);
  const question: SetupQuestion = {
    swap: {
      ...f,
      unit: form.unit,
      mark_unit: f.mark_unit || undefined,
      old_mark_unit: f.old_mark_unit || undefined,
      convention: f.convention || undefined,
    },
  };
  const { answer, refused, error } = useCalc(key.setup, question, askSetup, { ready });
  const t = bind<typeof noSwap, NonNullable<SetupQuestion["swap"]>>(f, set, refused, { at: "/swap" });
  const a = answer?.swap;
  return (
    <section className={classes.ask} aria-label="Another pinion, by the marks">
      <h2>Another pinion, by the marks</h2>
      <div className={classes.three}>
        {t.text("Shim of the old pinion", "shim", { placeholder: form.unit === "in" ? "0.047" : "1.20" })}
        <StampInput
          label="Old pinion's mark"
          placeholder="+2"
          value={f.old_mark}
          onChange={(old_mark) => set({ old_mark })}
          unit={f.old_mark_unit || f.mark_unit}
          error={refused?.within("/swap/old_mark")}
        />
        <StampInput
          label="New pinion's mark"
          placeholder="+7"
          value={f.new_mark}
          onChange={(new_mark) => set({ new_mark })}
          unit={f.mark_unit}
          error={refused?.within("/swap/new_mark")}
        />
      </div>
      <MarkUnits t={t} />
      {!a && (
        <Waiting
          title="The new shim, by the manual's convention"
          missing={[!ready && "shim, both marks, and which way a thicker shim moves the pinion"]}
          error={error}
        />
      )}
      {a && (
        <>
          <AnswerPlate>
            <div>
              <h2>{a.sentence}</h2>
              {own && f.convention === own.marks && (
                <p className="decide-sure">
                  From the set-up figures for {own.family}: {own.source}
                </p>
              )}
              {a.asks.map((x) => (
                <p key={x}>? {x}</p>
              ))}
            </div>
          </AnswerPlate>
          <Conventions ways={a.ways} chosen={f.convention} onChoose={(convention) => set({ convention })} />
          <div className="row">
            <KeepWithUnit unit={unit} record={{ kind: "setup", setup: question }} disabled={a.new_mm === undefined} />
          </div>
        </>
      )}
    </section>
  );
}

interface ConventionsProps {
  ways: NonNullable<SetupAnswer["swap"]>["ways"];
  chosen: string;
  onChoose: (convention: string) => void;
}

/** What each maker's convention would make of the marks. */
function Conventions({ ways, chosen, onChoose }: ConventionsProps) {
  return (
    <div role="radiogroup" aria-label="Convention" className={classes.ways}>
      {ways.map((w) => (
        // biome-ignore lint/a11y/useSemanticElements: the whole sentence is the button
        <button
          key={w.convention}
          type="button"
          role="radio"
          aria-checked={w.convention === chosen}
          onClick={() => onChoose(w.convention)}
        >
          <b>{w.means}</b>
          <span>{w.sentence}</span>
          <small>{w.formula}</small>
        </button>
      ))}
    </div>
  );
}

/** In which unit the marks are, and which way a shim moves. */
function MarkUnits({ t }: { t: ReturnType<typeof bind<typeof noSwap, NonNullable<SetupQuestion["swap"]>>> }) {
  return (
    <div className={classes.two}>
      {t.choice("Mark units", "mark_unit", [{ value: "", label: "… see the manual" }, ...markUnits])}
      {t.choice("Old pinion's mark units", "old_mark_unit", [{ value: "", label: "the same unit" }, ...markUnits])}
      {t.choice(
        "Thicker shim moves the pinion",
        "thicker",
        [
          { value: "", label: "…" },
          { value: "in", label: "in, toward the ring gear's axis" },
          { value: "out", label: "out" },
        ],
        { field: null },
      )}
    </div>
  );
}
