import { NativeSelect, TextInput } from "@mantine/core";
import type { ReactNode } from "react";
import type { Kind } from "../../../api/client";
import type { Draft } from "./draft";
import { atAxle, type FieldsProps, type MethodUI, note, type Step, turnArrow } from "./method";
import { ShaftInput } from "./ShaftInput";
import { readShaft } from "./shaft";

/** How each is turned by hand: what is marked, what is turned, what is dangerous. */
const turning: Partial<Record<Kind, Step[]>> = {
  gearcase: [
    {
      text: "Propeller off, forward gear engaged, unit clamped.",
      caution:
        "Engine off, key and lanyard out, propeller removed before anything turns. Turn only the way the engine turns: the other way breaks the water-pump impeller.",
    },
    { text: "Mark the driveshaft and the propeller shaft." },
    { text: "Turn the driveshaft until the propeller shaft has made its turns; count, and see what is left." },
  ],
  gearbox: [
    {
      text: "Shift into the gear in question. Mark the input shaft and the output flange in line with the case.",
      caution:
        "Under the vehicle: engine off, key out, wheels chocked, driveshaft off the flange. On the bench: jack and cradle.",
    },
    { text: "Take up the play. Turn the input until the output mark has made its turns." },
    { text: "Count the input's whole turns and see what is left. Overdrive: the input makes less than one." },
  ],
  transfer_case: [
    {
      text: "Set the range in question, center locked or front engaged. Mark the input and the rear output.",
      caution:
        "Under the vehicle: engine off, key out, wheels chocked, both driveshafts off. On the bench: jack and cradle.",
    },
    { text: "Take up the play. Turn the input until the rear output's mark has made its turns." },
    { text: "Count the input's whole turns and see what is left." },
  ],
  hub: [
    {
      text: "Lift the wheel, brake off. Mark the axle shaft and the hub.",
      caution:
        "Chock the wheels that stay down. Lift at the rated points and set jack stands: never trust a jack alone.",
    },
    { text: "Turn the hub until its mark has made its turns; count the axle shaft's turns and see what is left." },
  ],
};

export const bench: MethodUI = {
  name: "Bench turns",
  counts: "Input turns",
  fits: () => true,
  steps: (kind) =>
    turning[kind] ?? [
      {
        text: "Clamp the unit. Mark input and output in line with the housing.",
        caution: "Heavy parts: jack and cradle. Detent balls and springs fly.",
      },
      { text: "Through a differential, join both outputs or hold one: say which." },
      { text: "Take up the play, turn until the output mark is back, count the input's turns." },
    ],
  read: (d, r, _, units) => ({
    bench: {
      output_turns: r.number("bench/output_turns", d.output),
      outputs: d.outputs,
      shaft: readShaft(d.shaft, "bench/shaft", units, r),
    },
  }),
  Fields: (p) => (
    <>
      <Outputs {...p} />
      <ShaftInput name="Input shaft" path="bench/shaft" {...p} />
    </>
  ),
  picture: (kind) => pictures[kind] ?? anyUnit,
};

function Outputs({ question, draft, set, error }: FieldsProps) {
  return (
    <div className="two">
      <TextInput
        label="Output turns made"
        inputMode="decimal"
        value={draft.output}
        onChange={(e) => set({ output: e.currentTarget.value })}
        error={error("bench/output_turns")}
      />
      {atAxle(question.kind) && (
        <NativeSelect
          label="The outputs"
          value={draft.outputs}
          onChange={(e) => set({ outputs: e.currentTarget.value as Draft["outputs"] })}
          data={[
            { value: "joined", label: "joined, turning together" },
            { value: "one_held", label: "one held, one turned" },
            { value: "single", label: "a single output" },
          ]}
        />
      )}
    </div>
  );
}

const anyUnit = (
  <>
    <path d="M96 24h110v72H96z" className="metal" />
    <path d="M20 60H96M206 60H290" className="shaft" />
    <circle cx={34} cy={60} r={18} className="metal" />
    <path d="M34 46V42" className="chalk" />
    <circle cx={276} cy={60} r={18} className="metal" />
    <path d="M276 46V42" className="chalk" />
    {turnArrow(276, 60, 28)}
    {note(34, 104, "input: count", "middle")}
    {note(276, 112, "output: turn", "middle")}
  </>
);

const gearcaseBench = (
  <>
    <path d="M110 4h40v60l60 10v24H96V70z" className="metal" />
    <path d="M130 -4V62M210 84H280" className="shaft" />
    <circle cx={280} cy={84} r={6} className="metal" />
    {turnArrow(280, 84, 22)}
    {note(160, 18, "count the driveshaft,")}
    {note(160, 38, "turned the engine's way only")}
    {note(110, 118, "propeller off: mark its shaft, turn")}
  </>
);

const gearboxBench = (
  <>
    <path d="M90 16h60v12h80v-12h10v80H90z" className="metal" />
    <path d="M30 62H90M240 62H300" className="shaft" />
    <path d="M170 28V6M162 6h16" className="shaft thin" />
    <circle cx={40} cy={62} r={16} className="metal" />
    <path d="M40 50V46" className="chalk" />
    <path d="M296 42h12v40h-12z" className="metal" />
    <path d="M302 42v-6" className="chalk" />
    {turnArrow(40, 62, 26)}
    {note(186, 12, "in the gear in question")}
    {note(2, 118, "input: turn and count")}
    {note(252, 104, "output: watch its mark")}
  </>
);

const caseBench = (
  <>
    <path d="M170 8h84v44h36v62h-84V66h-36z" className="metal" />
    <path d="M110 32H170M254 32H330M140 92H206" className="shaft" />
    <circle cx={116} cy={32} r={15} className="metal" />
    <path d="M116 22V18" className="chalk" />
    <path d="M322 14h12v36h-12z" className="metal" />
    <path d="M328 14v-6" className="chalk" />
    <path d="M128 78h12v28h-12z" className="metal" />
    {turnArrow(116, 32, 24)}
    {note(2, 28, "input: turn")}
    {note(2, 46, "and count")}
    {note(342, 28, "rear output:")}
    {note(342, 46, "watch its mark")}
    {note(2, 88, "front output,")}
    {note(2, 106, "engaged with it")}
  </>
);

const hubBench = (
  <>
    <path d="M150 6h52v110h-52z" className="tire" />
    <path d="M160 30h70v62h-70z" className="metal" />
    <path d="M40 44H160" className="shaft" />
    <path d="M230 76H262" className="shaft" />
    <path d="M256 56h14v40h-14z" className="metal" />
    <path d="M263 56v-6M70 38v-8" className="chalk" />
    {turnArrow(276, 76, 22)}
    {note(20, 78, "axle shaft: count it")}
    {note(284, 116, "hub: turn it")}
  </>
);

/** Turned on the bench, by what it is. */
const pictures: Partial<Record<Kind, ReactNode>> = {
  gearcase: gearcaseBench,
  gearbox: gearboxBench,
  transfer_case: caseBench,
  hub: hubBench,
};
