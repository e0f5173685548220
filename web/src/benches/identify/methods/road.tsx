import { NativeSelect, TextInput } from "@mantine/core";
import { lazy, Suspense, useState } from "react";
import { lengthUnit, speedUnit, toKMH, toMM } from "../../../format/numbers";
import type { Draft } from "./draft";
import { atAxle, type FieldsProps, type MethodUI, note } from "./method";

const DrivePanel = lazy(() => import("../../../live/DrivePanel"));

const picture = (
  <>
    <path d="M10 96H390" className="shaft thin" />
    <circle cx={90} cy={66} r={30} className="tire" />
    <circle cx={90} cy={66} r={14} className="metal" />
    <path d="M200 80a44 44 0 0 1 88 0" className="dial" />
    <path d="M244 80l20 -30" className="chalk" />
    {note(244, 28, "engine speed, steady", "middle")}
    {note(90, 24, "true speed, known tire", "middle")}
    {note(300, 80, "converter locked")}
  </>
);

export const road: MethodUI = {
  name: "Road figures",
  fits: atAxle,
  steps: () => [
    {
      text: "Drive at a steady speed in a known gear, converter locked, on the level.",
      caution: "Let a passenger read the figures. Keep to the limit and the local rules.",
    },
    { text: "Note engine speed and true speed (a satellite receiver, not the vehicle's needle)." },
    { text: "Measure the driven tire's rolling circumference: chalk tire and floor, roll one turn." },
  ],
  read: (d, r, _, units) => ({
    road: {
      rpm: r.number("road/rpm", d.rpm),
      speed_kmh: toKMH(r.number("road/speed_kmh", d.speed), units),
      rolling_mm: toMM(r.number("road/rolling_mm", d.rolling), units),
      others: d.others.filter((o) => o.trim()).map((o, i) => r.number(`road/others/${i}`, o)),
      converter: d.converter,
    },
  }),
  Fields: Figures,
  picture: () => picture,
};

function Figures(p: FieldsProps) {
  const { draft, set, error, units } = p;
  const [drive, setDrive] = useState(false);
  const other = (i: number) => ({
    value: draft.others[i] ?? "",
    onChange: (e: { currentTarget: { value: string } }) =>
      set({ others: draft.others.map((o, k) => (k === i ? e.currentTarget.value : o)) }),
    error: error(`road/others/${i}`),
  });
  return (
    <>
      <div className="two">
        <TextInput
          label="Engine speed, rpm"
          inputMode="numeric"
          value={draft.rpm}
          onChange={(e) => set({ rpm: e.currentTarget.value })}
          error={error("road/rpm")}
        />
        <TextInput
          label={`True speed, ${speedUnit(units)}`}
          inputMode="decimal"
          value={draft.speed}
          onChange={(e) => set({ speed: e.currentTarget.value })}
          error={error("road/speed_kmh")}
        />
        <TextInput
          label={`Rolling circumference, ${lengthUnit(units)}`}
          inputMode="decimal"
          value={draft.rolling}
          onChange={(e) => set({ rolling: e.currentTarget.value })}
          error={error("road/rolling_mm")}
        />
        <NativeSelect
          label="Between engine and gearbox"
          value={draft.converter}
          onChange={(e) => set({ converter: e.currentTarget.value as Draft["converter"] })}
          data={[
            { value: "locked", label: "converter, locked" },
            { value: "open", label: "converter, not locked" },
            { value: "clutch", label: "clutch" },
          ]}
        />
        <TextInput label="Gearbox gear, ratio" inputMode="decimal" {...other(0)} />
        <TextInput label="Transfer case ratio" inputMode="decimal" {...other(1)} />
      </div>
      <details onToggle={(e) => setDrive(e.currentTarget.open)}>
        <summary>From a recorded drive</summary>
        {drive && (
          <Suspense fallback={<p role="status">Loading…</p>}>
            <DrivePanel {...p} />
          </Suspense>
        )}
      </details>
    </>
  );
}
