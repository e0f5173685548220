import { ActionIcon, TextInput } from "@mantine/core";
import { IconHandFinger } from "@tabler/icons-react";
import { useState } from "react";
import type { Refused, SpeedoRequest } from "../../api/client";
import { bind } from "../../form/bind";
import { HelicalCard } from "./HelicalCard";
import type { SpeedoForm } from "./model";
import classes from "./speedo.module.css";

type Props = {
  form: SpeedoForm;
  set: (v: Partial<SpeedoForm>) => void;
  refused?: Refused;
  /** Families of gears that the shop has, and the one that the take-off's part is of. */
  families: string[];
  own?: string;
};

/** The gears installed, the cable, and what it read right on before. */
export function GearFields({ form: f, set, refused, families, own }: Props) {
  const [counting, setCounting] = useState<"drive" | "driven">();
  const before = Boolean(f.axleBefore?.trim() || f.tireBefore?.trim());
  const b = bind<SpeedoForm, SpeedoRequest>(f, set, refused);
  const teethField = (key: "drive" | "driven", label: string, error?: string) => (
    <TextInput
      label={label}
      inputMode="numeric"
      placeholder="teeth"
      value={f[key]}
      onChange={(e) => set({ [key]: e.currentTarget.value })}
      error={error}
      rightSection={
        <ActionIcon
          variant="subtle"
          aria-label={`Count: ${label}`}
          title="How to count it"
          onClick={() => setCounting(key)}
        >
          <IconHandFinger size={18} />
        </ActionIcon>
      }
    />
  );
  return (
    <>
      <div className={`${classes.fields} no-print`}>
        {b.text("Family of gears", "family", {
          field: null,
          placeholder: own || families.join(", ") || "any",
          list: "sp-families",
        })}
        <datalist id="sp-families">
          {families.map((x) => (
            <option key={x} value={x} />
          ))}
        </datalist>
        {teethField("drive", "Drive gear installed", b.fault("mechanical/fitted_drive"))}
        {teethField("driven", "Driven gear installed", b.fault("mechanical/fitted_driven"))}
        {b.text("Cable turns", "constant", {
          field: "mechanical/constant",
          placeholder: before ? "from when it read right" : f.per === "mile" ? "1000" : "621.37",
          disabled: before,
          numeric: true,
        })}
        {b.choice("per", "per", ["mile", "km"], { field: null, disabled: before })}
      </div>
      <details className="decide-box no-print" open={before}>
        <summary>It read right before the change</summary>
        <p className="dim">
          Enter the installed gears above, and the axle and tire they read right with. The new gears follow.
        </p>
        <div className="two">
          {b.text("Axle before", "axleBefore", { field: "before/axle", placeholder: "3.73 or 41/11" })}
          {b.text("Tire before", "tireBefore", { field: "before/tire", placeholder: "235/75R15" })}
        </div>
      </details>
      {counting && (
        <HelicalCard
          name={`${counting} gear`}
          onCount={(n) => {
            set({ [counting]: String(n) });
            setCounting(undefined);
          }}
          onClose={() => setCounting(undefined)}
        />
      )}
    </>
  );
}

/** Gears that the shop's list doesn't have. */
export function OwnGears({ form: f, set, refused }: Omit<Props, "families" | "own">) {
  const b = bind<SpeedoForm, SpeedoRequest>(f, set, refused);
  return (
    <details className="decide-box no-print" open={Boolean(f.drives || f.drivens)}>
      <summary>Gears not on the shop's list</summary>
      <div className="two">
        {b.text("Drive gears, teeth", "drives", { field: "mechanical/drives", placeholder: "6 7 8" })}
        {b.text("Driven gears, teeth", "drivens", { field: "mechanical/driven", placeholder: "15-28" })}
      </div>
    </details>
  );
}
