import { TextInput } from "@mantine/core";
import type { Doc, Refused } from "../../api/client";
import { NumberField } from "./inputs";
import "./driveline.css";

export function BodyForm({ doc, refused, onDoc }: { doc: Doc; refused?: Refused; onDoc: (d: Doc) => void }) {
  const fields = [
    ["wheelbase_mm", "Wheelbase, mm"],
    ["track_mm", "Track, mm"],
    ["mass_kg", "Mass, kg"],
    ["front_percent", "Weight on the front axle, %"],
    ["height_mm", "Height of the center of gravity, mm"],
  ] as const;
  return (
    <div className="stack tight">
      <TextInput
        label="Name of this driveline"
        size="xs"
        value={doc.name ?? ""}
        maxLength={80}
        onChange={(e) => onDoc({ ...doc, name: e.currentTarget.value })}
      />
      {doc.lies === "vehicle" && (
        <div className="part-fields">
          {fields.map(([k, label]) => (
            <NumberField
              key={k}
              label={label}
              value={doc.body?.[k]}
              error={refused?.at(`/body/${k}`)}
              onSet={(v) => onDoc({ ...doc, body: { ...doc.body, [k]: v } })}
            />
          ))}
        </div>
      )}
      <p className="dim">Corners need track and wheelbase; grip needs mass and where it rests.</p>
    </div>
  );
}
