import { Textarea } from "@mantine/core";
import { api, type SetupQuestion, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { useKept } from "../../app/local";
import { Waiting } from "../../app/Waiting";
import { StampInput } from "../../fields/StampInput";
import { bind } from "../../form/bind";
import { fixed } from "../../format/numbers";
import { useShop } from "../../shop/useShop";
import { AnswerPlate } from "../answer";
import { KeepWithUnit } from "../KeepWithUnit";
import { number } from "../tire/model";
import classes from "./setup.module.css";

const noSwap = { shim: "", old_mark: "", new_mark: "", mark_unit: "", old_mark_unit: "", convention: "", thicker: "" };
const markUnits = [
  { value: "0.01mm", label: "hundredths of a millimeter" },
  { value: "0.001in", label: "thousandths of an inch" },
  { value: "mm", label: "millimeters" },
  { value: "in", label: "inches" },
];
const noRigid = { gap: "", ledge: "", repeat: "", before: "", after: "" };

export const askSetup = (body: SetupQuestion, signal: AbortSignal) => take(api.POST("/calc/setup", { body, signal }));

type Props = { store: string; unit?: number; family: string; box: string; setBox: (v: string) => void };

/** Another pinion by its marks, and the stack that backs it. */
export function PinionPanel({ store, unit, family, box, setBox }: Props) {
  return (
    <div className={classes.split}>
      <Swap store={store} unit={unit} family={family} />
      <RigidStack store={store} unit={unit} family={family} box={box} setBox={setBox} />
    </div>
  );
}

function Swap({ store, unit, family }: { store: string; unit?: number; family: string }) {
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
        {t.text("Shim of the old pinion", "shim", { placeholder: "1.20" })}
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
          <div role="radiogroup" aria-label="Convention" className={classes.ways}>
            {a.ways.map((w) => (
              // biome-ignore lint/a11y/useSemanticElements: the whole sentence is the button
              <button
                key={w.convention}
                type="button"
                role="radio"
                aria-checked={w.convention === f.convention}
                onClick={() => set({ convention: w.convention })}
              >
                <b>{w.means}</b>
                <span>{w.sentence}</span>
                <small>{w.formula}</small>
              </button>
            ))}
          </div>
          <div className="row">
            <KeepWithUnit unit={unit} record={{ kind: "setup", setup: question }} disabled={a.new_mm === undefined} />
          </div>
        </>
      )}
    </section>
  );
}

function RigidStack({ store, unit, box, setBox }: Props) {
  const [f, keep] = useKept(`${store}.rigid`, noRigid);
  const set = (v: Partial<typeof noRigid>) => keep({ ...f, ...v });
  const ready = Boolean(f.gap.trim() && f.ledge && box.trim());
  const question: SetupQuestion = {
    rigid: {
      gap: f.gap,
      ledge: f.ledge,
      box,
      repeat_mm: number(f.repeat),
      before: f.before.trim() || undefined,
      after: f.after.trim() || undefined,
    },
  };
  const { answer, refused, error } = useCalc(key.setup, question, askSetup, { ready });
  const t = bind<typeof noRigid, NonNullable<SetupQuestion["rigid"]>>(f, set, refused, { at: "/rigid" });
  const a = answer?.rigid;
  return (
    <section className={classes.ask} aria-label="Rigid stack">
      <h2>Rigid stack: the gap behind the pinion</h2>
      <p className="dim">Bearings are preloaded first. Then fill the gap between shank and ledge, never more.</p>
      <div className={classes.three}>
        {t.text("Gap, measured three times", "gap", { placeholder: "0.43 0.44 0.43" })}
        {t.text("The gauge repeats to, mm", "repeat", { placeholder: "0.01", numeric: true, field: "repeat_mm" })}
        {t.choice(
          "Ledge under the cup for depth",
          "ledge",
          [
            { value: "", label: "…" },
            { value: "yes", label: "yes, depth is shimmed" },
            { value: "no", label: "none: depth can't be shimmed" },
          ],
          { field: null },
        )}
      </div>
      <div className={classes.two}>
        {t.text("Turns with, gap open", "before", { placeholder: "2.0 N·m" })}
        {t.text("Turns with, stack in", "after", { placeholder: "the same; if not, the stack is too thick" })}
      </div>
      <Textarea
        label="Shims on the shelf"
        autosize
        minRows={1}
        value={box}
        onChange={(e) => setBox(e.currentTarget.value)}
        error={refused?.within("/rigid/box")}
      />
      {!a && (
        <Waiting
          title="The thickest stack that is not above the gap"
          missing={[!ready && "the gap, whether there is a ledge, and the shims on the shelf"]}
          error={error}
        />
      )}
      {a && (
        <>
          <AnswerPlate>
            <div>
              <h2>{a.sentence}</h2>
              {a.stack && <p>{a.stack.pieces.map((p) => fixed(p, 2)).join(" + ")} mm</p>}
              {a.preload && <p>{a.spoiled ? `△ ${a.preload}` : a.preload}</p>}
              {a.notes.map((n) => (
                <p key={n} className="decide-sure">
                  {n}
                </p>
              ))}
            </div>
          </AnswerPlate>
          <StackOrder order={a.order} />
          <div className="row">
            <KeepWithUnit unit={unit} record={{ kind: "setup", setup: question }} />
          </div>
        </>
      )}
    </section>
  );
}

/** The whole stack in its order, head to nut. */
function StackOrder({ order }: { order: string[] }) {
  const w = 500 / order.length;
  return (
    <svg viewBox="0 0 520 132" className={classes.order} role="img" aria-label={`In this order: ${order.join(", ")}`}>
      <path d="M10 40H510V56H10Z" className={classes.shaft} />
      {order.map((o, i) => {
        const shims = o.includes("shims");
        const h = i === 0 ? 68 : shims ? 46 : o === "nut" ? 40 : 54;
        return (
          <g key={o}>
            <rect
              x={12 + i * w}
              y={48 - h / 2}
              width={shims ? w * 0.4 : w - 12}
              height={h}
              className={shims ? classes.shimNew : i === 0 ? classes.gear : classes.bearing}
            />
            <text transform={`translate(${16 + i * w} 92) rotate(18)`} className={classes.small}>
              {i + 1} {o}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
