import { Button, NumberInput, SegmentedControl } from "@mantine/core";
import { useState } from "react";
import type { PracticeAct, PracticeScene, Reading, Remainder } from "../../api/client";
import { Flange } from "../../drawing/Flange";
import classes from "./practice.module.css";

type Act = (a: PracticeAct) => void;

/** What the learner writes down: turns that he counted, or teeth. */
export function Notes({ scene, act }: { scene: PracticeScene; act: Act }) {
  const notes = scene.offers.filter((o) => o.takes === "note");
  if (notes.length === 0) return null;
  const wheels = (scene.machine?.outputs.length ?? 0) > 1;
  return (
    <>
      {notes.some((o) => o.on === "turns") && <TurnsNote wheels={wheels} act={act} />}
      {notes.some((o) => o.on === "teeth") && <TeethNote scene={scene} act={act} />}
    </>
  );
}

const number = (v: string | number) => (v === "" ? 0 : Number(v));

function TurnsNote({ wheels, act }: { wheels: boolean; act: Act }) {
  const [left, setLeft] = useState<string | number>("");
  const [right, setRight] = useState<string | number>("");
  const [whole, setWhole] = useState<string | number>("");
  const [part, setPart] = useState(0);
  const [by, setBy] = useState("eye");
  const [arc, setArc] = useState<string | number>("");
  const [rim, setRim] = useState<string | number>("");
  const write = () => {
    const remainder: Remainder =
      by === "arc"
        ? { by: "arc", arc_mm: number(arc), rim_mm: number(rim), rim_is: "circumference" }
        : part === 0
          ? { by: "none" }
          : { by: "eye", fraction: part };
    const shaft = { whole: Math.round(number(whole)), remainder };
    const note: Reading = wheels
      ? {
          method: "turns",
          turns: { left: { turns: number(left), seen: true }, right: { turns: number(right), seen: true }, shaft },
        }
      : { method: "bench", bench: { output_turns: number(right), outputs: "single", shaft } };
    act({ do: "note", on: "turns", note });
  };
  return (
    <form
      className={classes.form}
      aria-label="Turns that you counted"
      onSubmit={(e) => {
        e.preventDefault();
        write();
      }}
    >
      <h2>Turns that you counted</h2>
      <div className={classes.row}>
        {wheels && (
          <NumberInput
            hideControls
            label="Left wheel, turns"
            value={left}
            onChange={setLeft}
            decimalScale={2}
            step={1}
          />
        )}
        <NumberInput
          hideControls
          label={wheels ? "Right wheel, turns" : "Output, turns"}
          value={right}
          onChange={setRight}
          decimalScale={2}
          step={1}
        />
        <NumberInput
          hideControls
          label={wheels ? "Flange, whole turns" : "Input, whole turns"}
          value={whole}
          onChange={setWhole}
          allowDecimal={false}
          min={0}
        />
      </div>
      <div className={classes.row}>
        <SegmentedControl
          aria-label="The partial turn"
          value={by}
          onChange={setBy}
          data={[
            { value: "eye", label: "Partial turn by eye" },
            { value: "arc", label: "by tape" },
          ]}
        />
        {by === "arc" ? (
          <>
            <NumberInput hideControls label="Past the mark, mm" value={arc} onChange={setArc} min={0} />
            <NumberInput hideControls label="Rim around, mm" value={rim} onChange={setRim} min={0} />
          </>
        ) : (
          <div className={classes.partial}>
            <Flange value={part} short={false} onChange={setPart} />
            <NumberInput
              hideControls
              label="Partial turn"
              value={part}
              onChange={(v) => setPart(Math.min(0.99, Math.max(0, number(v))))}
              step={0.01}
              decimalScale={2}
              min={0}
              max={0.99}
            />
          </div>
        )}
      </div>
      <Button type="submit" variant="default">
        Write it down
      </Button>
    </form>
  );
}

function TeethNote({ scene, act }: { scene: PracticeScene; act: Act }) {
  const gears = scene.machine?.gears ?? [];
  const [counts, setCounts] = useState<Record<string, string | number>>({});
  return (
    <form
      className={classes.form}
      aria-label="Teeth that you counted"
      onSubmit={(e) => {
        e.preventDefault();
        const teeth = Object.fromEntries(
          Object.entries(counts)
            .filter(([, v]) => v !== "")
            .map(([m, v]) => [m, Math.round(Number(v))]),
        );
        act({ do: "note", on: "teeth", note: { method: "teeth", teeth } });
      }}
    >
      <h2>Teeth that you counted</h2>
      <div className={classes.row}>
        {gears.map((g) => (
          <NumberInput
            hideControls
            key={g.member}
            label={g.name.charAt(0).toUpperCase() + g.name.slice(1)}
            value={counts[g.member] ?? ""}
            onChange={(v) => setCounts({ ...counts, [g.member]: v })}
            allowDecimal={false}
            min={1}
          />
        ))}
      </div>
      <Button type="submit" variant="default">
        Write it down
      </Button>
    </form>
  );
}
