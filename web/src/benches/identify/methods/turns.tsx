import { Radio, TextInput } from "@mantine/core";
import classes from "../identify.module.css";
import type { Draft } from "./draft";
import { atAxle, type FieldsProps, type MethodUI, note, turnArrow } from "./method";
import { ShaftInput } from "./ShaftInput";
import { readShaft } from "./shaft";

const picture = (
  <>
    <path d="M70 60H180" className="shaft" />
    <path d="M180 60V18M180 60V102" className="shaft" />
    <circle cx={180} cy={60} r={22} className="metal" />
    <path d="M162 4h36v18h-36zM162 98h36v18h-36z" className="tire" />
    <path d="M198 10h8M198 110h8" className="chalk" />
    <path d="M60 44h14v32H60z" className="metal" />
    <path d="M67 44v-8" className="chalk" />
    {turnArrow(40, 60, 16)}
    {note(216, 16, "chalk tire and fender: 1 turn …")}
    {note(216, 112, "… the other wheel too, or held")}
    {note(12, 104, "chalk the flange,")}
    {note(12, 118, "count its turns")}
  </>
);

const stands =
  "Chock the wheels that stay down. Lift at the rated points and set jack stands: never trust a jack alone. Neutral with the brake off rolls.";

export const turns: MethodUI = {
  name: "Turn wheels",
  counts: "Flange turns",
  fits: atAxle,
  steps: () => [
    { text: "Lift both driven wheels. Gearbox in neutral, parking brake off.", caution: stands },
    { text: "Take up the play in the turning direction. Chalk tire and fender, flange and housing." },
    { text: "Turn the wheels back to their mark; count whole turns of the flange and see what is left." },
    { text: "Watch or hold the other wheel: one held and one turned gives half the ratio." },
  ],
  read: (d, r, _, units) => {
    const shaft = readShaft(d.shaft, "turns/shaft", units, r);
    if (d.wheels === "each") {
      const ask = "Enter this wheel's turns; 0 if it was held";
      const left = r.number("turns/left/turns", d.left, ask);
      const right = r.number("turns/right/turns", d.right, ask);
      return { turns: { left: { turns: left, seen: true }, right: { turns: right, seen: true }, shaft } };
    }
    const n = r.number("turns/left/turns", d.wheelTurns);
    if (d.other !== "seen" && d.other !== "assumed") r.missing["turns/right/seen"] = "Say what the other wheel did";
    return {
      turns: {
        left: { turns: n, seen: true },
        right: { turns: d.wheels === "both" ? n : 0, seen: d.other === "seen" },
        shaft,
      },
    };
  },
  Fields: (p) => (
    <>
      <Wheels {...p} />
      <ShaftInput name="Driveshaft flange" path="turns/shaft" {...p} />
    </>
  ),
  picture: () => picture,
};

/** What the wheels did: which turned, and whether anyone watched the other. */
const ways = [
  { value: "both seen", label: "Both turned together, I saw it" },
  { value: "one seen", label: "One turned, the other held" },
  { value: "both assumed", label: "Nobody watched the other wheel" },
  { value: "each seen", label: "Each by a different amount" },
];

function Wheels({ draft, set, error }: FieldsProps) {
  return (
    <>
      <Radio.Group
        label="What the wheels did"
        value={draft.wheels === "each" ? "each seen" : draft.other && `${draft.wheels} ${draft.other}`}
        onChange={(v) => {
          const [wheels, other] = v.split(" ") as [Draft["wheels"], Draft["other"]];
          set({ wheels, other });
        }}
        error={error("turns/right/seen")}
      >
        <div className={classes.wheelWays}>
          {ways.map((w) => (
            <Radio key={w.value} {...w} />
          ))}
        </div>
      </Radio.Group>
      {draft.wheels === "each" ? (
        <div className="two">
          <TextInput
            label="Left wheel, turns"
            inputMode="decimal"
            value={draft.left}
            onChange={(e) => set({ left: e.currentTarget.value })}
            error={error("turns/left/turns")}
          />
          <TextInput
            label="Right wheel, turns"
            inputMode="decimal"
            value={draft.right}
            onChange={(e) => set({ right: e.currentTarget.value })}
            error={error("turns/right/turns")}
          />
        </div>
      ) : (
        <TextInput
          label="Wheel turns"
          inputMode="decimal"
          value={draft.wheelTurns}
          onChange={(e) => set({ wheelTurns: e.currentTarget.value })}
          error={error("turns/left/turns") ?? error("turns/right/turns")}
        />
      )}
    </>
  );
}
