import { Button, NumberInput } from "@mantine/core";
import { useState } from "react";
import type { PracticeAct, PracticeMesh } from "../../api/client";
import { minutes } from "../../format/numbers";
import classes from "./practice.module.css";

const places = [
  ["pinion", "Pinion depth"],
  ["left", "Left carrier"],
  ["right", "Right carrier"],
] as const;

/** Other shims for the next assembly, in all at each place. */
export function ShimForm({ mesh, act }: { mesh: PracticeMesh; act: (a: PracticeAct) => void }) {
  const [to, setTo] = useState(mesh.piles);
  return (
    <form
      className={classes.form}
      aria-label="Other shims"
      onSubmit={(e) => {
        e.preventDefault();
        act({ do: "assemble", stacks: to });
      }}
    >
      <h2>Other shims</h2>
      <div className={classes.row}>
        {places.map(([id, name]) => (
          <NumberInput
            hideControls
            key={id}
            label={`${name}, mm`}
            value={to[id]}
            onChange={(v) => setTo({ ...to, [id]: Number(v) })}
            step={0.01}
            decimalScale={3}
            min={0.1}
            max={4}
          />
        ))}
      </div>
      <Button type="submit" variant="default">
        Take it apart and fit these ({minutes(40)})
      </Button>
    </form>
  );
}
