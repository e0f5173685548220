import { Checkbox } from "@mantine/core";
import type { ReactNode } from "react";
import type { SetupQuestion } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { useKept } from "../../app/local";
import { Waiting } from "../../app/Waiting";
import { bind } from "../../form/bind";
import { Cautions } from "../answer";
import { KeepWithUnit } from "../KeepWithUnit";
import { number } from "../tire/model";
import { askSetup, type Form } from "./model";
import classes from "./setup.module.css";

type Props = { store: string; unit?: number; form: Form };

/** What goes with the carrier: turning it over, its side gears, its limited slip, and gears on their bearings. */
export function InsidePanel({ store, unit, form }: Props) {
  return (
    <div className={classes.split}>
      <div className={classes.ask}>
        <Turned store={store} unit={unit} form={form} />
        <SideGears store={store} unit={unit} form={form} />
      </div>
      <div className={classes.ask}>
        <Slip store={store} unit={unit} form={form} />
        <Runout store={store} unit={unit} form={form} />
      </div>
    </div>
  );
}

const noTurned: { left: string; right: string; ring_side: string; hypoid?: boolean } = {
  left: "",
  right: "",
  ring_side: "",
};

function Turned({ store, unit, form }: Props) {
  const last = form.trials[form.trials.length - 1];
  const [f, keep] = useKept(`${store}.turned`, noTurned);
  const v = {
    left: f.left || last?.left || "",
    right: f.right || last?.right || "",
    ring_side: f.ring_side || form.ring_side,
  };
  const question: SetupQuestion = { turned: { ...v, unit: form.unit, hypoid: f.hypoid || undefined } };
  const ready = Boolean(v.left && v.right && v.ring_side);
  const { answer, refused, error } = useCalc(key.setup, question, askSetup, { ready });
  const t = bind<typeof v, NonNullable<SetupQuestion["turned"]>>(v, (c) => keep({ ...f, ...c }), refused, {
    at: "/turned",
  });
  const a = answer?.turned;
  return (
    <section aria-label="Carrier turned around">
      <h2>Carrier to the other side</h2>
      <div className={classes.three}>
        {t.text("Left shims now", "left")}
        {t.text("Right shims now", "right")}
        {t.choice(
          "The ring gear is now on the",
          "ring_side",
          [
            { value: "", label: "…" },
            { value: "left", label: "left" },
            { value: "right", label: "right" },
          ],
          { field: null },
        )}
      </div>
      <Checkbox
        label="Hypoid: the pinion sits below or above the ring's center"
        checked={f.hypoid ?? false}
        onChange={(e) => keep({ ...f, hypoid: e.currentTarget.checked })}
        error={refused?.field("/turned/hypoid")}
      />
      {!a && (
        <Waiting
          title="What goes with what"
          missing={[!ready && "the shims on both sides, and which side the ring gear is on"]}
          error={error}
        />
      )}
      {a && <Said sentence={a.sentence} notes={a.goes} cautions={a.cautions} unit={unit} question={question} />}
    </section>
  );
}

const noSide = { teeth: "", mate: "", left_shim: "", left_play: "", right_shim: "", right_play: "", low: "", high: "" };

function SideGears({ store, unit, form }: Props) {
  const [f, keep] = useKept(`${store}.side`, noSide);
  const question: SetupQuestion = {
    side_gears: {
      teeth: number(f.teeth) ?? 0,
      mate: number(f.mate) ?? 0,
      unit: form.unit,
      left: [{ shim: f.left_shim, play: f.left_play }],
      right: [{ shim: f.right_shim, play: f.right_play }],
      figures: [{ figure: "side_gear_play", low: number(f.low), high: number(f.high), unit: form.unit }],
      box: form.box.trim() || undefined,
    },
  };
  const ready = Object.values(f).every((s) => s.trim());
  const { answer, refused, error } = useCalc(key.setup, question, askSetup, { ready });
  const set = (c: Partial<typeof noSide>) => keep({ ...f, ...c });
  const t = bind<typeof noSide, NonNullable<SetupQuestion["side_gears"]>>(f, set, refused, { at: "/side_gears" });
  const a = answer?.side_gears;
  return (
    <section aria-label="Side gears">
      <h2>Side gears of the differential</h2>
      <div className={classes.four}>
        {t.text("Side gear teeth", "teeth", { placeholder: "16", numeric: true })}
        {t.text("Spider teeth", "mate", { placeholder: "10", numeric: true })}
        {t.text("Backlash from", "low", { placeholder: "0.05", numeric: true, field: "figures" })}
        {t.text("to, by the maker", "high", { placeholder: "0.15", numeric: true, field: "figures" })}
      </div>
      <div className={classes.four}>
        {t.text("Left shim", "left_shim", { placeholder: "1.00", field: "left/0/shim" })}
        {t.text("Left backlash", "left_play", { placeholder: "0.30 0.31", field: "left/0/play" })}
        {t.text("Right shim", "right_shim", { placeholder: "1.00", field: "right/0/shim" })}
        {t.text("Right backlash", "right_play", { placeholder: "0.12 0.11", field: "right/0/play" })}
      </div>
      {!a && (
        <Waiting
          title="A shim for each side"
          missing={[!ready && "teeth, the maker's backlash, and shim and backlash on both sides"]}
          error={error}
        />
      )}
      {a && (
        <Said sentence={a.sides.map((s) => s.sentence).join(" ")} notes={a.notes} unit={unit} question={question} />
      )}
    </section>
  );
}

const noSlip = {
  breakaway: "",
  room: "",
  stack: "",
  shim: "",
  t_low: "",
  t_high: "",
  t_unit: "N·m",
  c_low: "",
  c_high: "",
};

function Slip({ store, unit, form }: Props) {
  const [f, keep] = useKept(`${store}.slip`, noSlip);
  const set = (c: Partial<typeof noSlip>) => keep({ ...f, ...c });
  const figures = [
    f.t_high.trim() && { figure: "breakaway_torque", low: number(f.t_low), high: number(f.t_high), unit: f.t_unit },
    f.c_high.trim() && { figure: "clutch_clearance", low: number(f.c_low), high: number(f.c_high), unit: form.unit },
  ].filter((x) => typeof x === "object");
  const stacked = f.room.trim() && f.stack.trim() && f.shim.trim();
  const question: SetupQuestion = {
    limited_slip: {
      unit: form.unit,
      figures,
      breakaway: f.breakaway.trim() || undefined,
      ...(stacked ? { room: f.room, stack: f.stack, shim: f.shim } : {}),
      box: form.box.trim() || undefined,
    },
  };
  const ready = Boolean(f.breakaway.trim() || stacked);
  const { answer, refused, error } = useCalc(key.setup, question, askSetup, { ready });
  const t = bind<typeof noSlip, NonNullable<SetupQuestion["limited_slip"]>>(f, set, refused, { at: "/limited_slip" });
  const a = answer?.limited_slip;
  return (
    <section aria-label="Limited slip">
      <h2>Limited slip</h2>
      <div className={classes.four}>
        {t.text("Breaks away at", "breakaway", { placeholder: "72 N·m" })}
        {t.text("Maker: from", "t_low", { numeric: true, field: "figures" })}
        {t.text("to", "t_high", { numeric: true, field: "figures" })}
        {t.choice("Unit", "t_unit", ["N·m", "lbf·ft", "lbf·in", "kgf·cm"], { field: null })}
      </div>
      <div className={classes.four}>
        {t.text("Depth of the pocket", "room", { placeholder: "24.00" })}
        {t.text("Height of the stack", "stack", { placeholder: "22.80" })}
        {t.text("Shim in it", "shim", { placeholder: "0.80" })}
        <span />
        {t.text("Clearance from", "c_low", { numeric: true, field: "figures" })}
        {t.text("to, by the maker", "c_high", { numeric: true, field: "figures" })}
      </div>
      {!a && (
        <Waiting
          title="Breakaway, and the shim of the clutch stack"
          missing={[!ready && "a breakaway torque, or pocket, stack and shim"]}
          error={error}
        />
      )}
      {a && <Said sentence={a.sentence} notes={a.notes} unit={unit} question={question} />}
    </section>
  );
}

const noRunout = { readings: "", most: "" };

function Runout({ store, unit, form }: Props) {
  const [f, keep] = useKept(`${store}.runout`, noRunout);
  const question: SetupQuestion = {
    gear_runout: {
      readings: f.readings,
      unit: form.unit,
      figures: f.most.trim() ? [{ figure: "gear_runout", high: number(f.most), unit: form.unit }] : [],
    },
  };
  const ready = Boolean(f.readings.trim());
  const { answer, refused, error } = useCalc(key.setup, question, askSetup, { ready });
  const t = bind<typeof noRunout, NonNullable<SetupQuestion["gear_runout"]>>(f, (c) => keep({ ...f, ...c }), refused, {
    at: "/gear_runout",
  });
  const a = answer?.gear_runout;
  return (
    <section aria-label="A gear on its bearing">
      <h2>A gear on its bearing</h2>
      <div className={classes.two}>
        {t.text("Dial over a pin, around the gear", "readings", { placeholder: "0 0.02 0.05 0.03" })}
        {t.text("Maker's limit", "most", { numeric: true, field: "figures" })}
      </div>
      {!a && <Waiting title="Runout" missing={[!ready && "three or more places around the gear"]} error={error} />}
      {a && <Said sentence={a.sentence} notes={a.notes} unit={unit} question={question} />}
    </section>
  );
}

/** An answer in one sentence, what goes with it, and the way into the unit's record. */
function Said({
  sentence,
  notes,
  cautions,
  unit,
  question,
}: {
  sentence: ReactNode;
  notes: string[];
  cautions?: string[];
  unit?: number;
  question: SetupQuestion;
}) {
  return (
    <div className={classes.said}>
      <p className={classes.sentence}>{sentence}</p>
      <ul>
        {notes.map((n) => (
          <li key={n}>{n}</li>
        ))}
      </ul>
      {cautions && <Cautions list={cautions} />}
      <KeepWithUnit small unit={unit} record={{ kind: "setup", setup: question }} />
    </div>
  );
}
