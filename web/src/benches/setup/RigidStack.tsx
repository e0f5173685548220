import { Textarea } from "@mantine/core";
import type { SetupQuestion } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { useKept } from "../../app/local";
import { Waiting } from "../../app/Waiting";
import { bind } from "../../form/bind";
import { fixed } from "../../format/numbers";
import { AnswerPlate } from "../answer";
import { KeepWithUnit } from "../KeepWithUnit";
import { number } from "../tire/model";
import { askSetup, type Form } from "./model";
import classes from "./setup.module.css";

const noRigid = { gap: "", ledge: "", repeat: "", before: "", after: "" };

type Props = { store: string; unit?: number; form: Form; setBox: (v: string) => void };

/** What fills the gap behind the pinion of a housing without shims under its cup, or beside them. */
export function RigidStack({ store, unit, form, setBox }: Props) {
  const box = form.box;
  const [f, keep] = useKept(`${store}.rigid`, noRigid);
  const set = (v: Partial<typeof noRigid>) => keep({ ...f, ...v });
  const ready = Boolean(f.gap.trim() && f.ledge && box.trim());
  const question: SetupQuestion = {
    rigid: {
      unit: form.unit,
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
