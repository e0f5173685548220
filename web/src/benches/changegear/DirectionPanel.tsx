import { NativeSelect } from "@mantine/core";
import type { ChangeGearsAnswer, Refused } from "../../api/client";
import classes from "./changegear.module.css";
import type { Form } from "./model";

type Props = { answer: ChangeGearsAnswer; form: Form; set: (v: Partial<Form>) => void; refused?: Refused };

/** Forward or backward, before anything is bolted; and what would turn it. */
export function DirectionPanel({ answer, form, set, refused }: Props) {
  const d = answer.direction;
  const choose = (
    label: string,
    k: "mounting" | "ringSide" | "pinionAt" | "spin" | "hypoid",
    field: string,
    list: [string, string][],
  ) => (
    <NativeSelect
      label={label}
      value={form[k]}
      onChange={(e) => set({ [k]: e.currentTarget.value })}
      error={refused?.field(`/lies/${field}`)}
      data={[{ value: "", label: "as it is drawn" }, ...list.map(([value, l]) => ({ value, label: l }))]}
    />
  );
  return (
    <div className="stack">
      <div className={classes.four}>
        {choose("Mounted", "mounting", "mounting", [
          ["upright", "upright"],
          ["turned_over", "turned over, about its length"],
          ["end_for_end", "end for end"],
        ])}
        {choose("Ring, upright", "ringSide", "ring_side", [
          ["left", "left of the pinion"],
          ["right", "right of the pinion"],
        ])}
        {choose("Pinion", "pinionAt", "pinion_at", [
          ["ahead", "ahead: fed from the front"],
          ["behind", "behind: fed from the rear"],
        ])}
        {choose("Engine spin", "spin", "spin", [
          ["standard", "clockwise from the front"],
          ["opposite", "counterclockwise"],
        ])}
        {choose("Axes", "hypoid", "hypoid", [
          ["no", "meet"],
          ["yes", "pass each other (hypoid)"],
        ])}
      </div>
      {!d && (
        <p>
          Enter which side of the pinion the ring gear sits on. The rest is taken as drawn: upright, driven from the
          front.
        </p>
      )}
      {d && (
        <>
          <p className={d.forward ? classes.sayForward : classes.sayBackward} role="status">
            {d.forward ? "→" : "←"} {d.sentence}
          </p>
          {d.ways.length > 0 && (
            <>
              <h2>What would turn it</h2>
              <ul className={classes.turns}>
                {d.ways.map((w) => (
                  <li key={w.what}>
                    <b>
                      {w.forward ? "✓" : "✕"} {w.what}
                    </b>
                    :{" "}
                    {w.forward
                      ? "then the car drives forward"
                      : "the car would still drive backward, or it can't be done"}
                    <small>{w.with.join("; ")}</small>
                  </li>
                ))}
              </ul>
            </>
          )}
          <p className="dim">
            Follow the maker's manual on what may be turned over. Turn the drive by hand and watch the wheels before the
            cover goes on.
          </p>
        </>
      )}
    </div>
  );
}
