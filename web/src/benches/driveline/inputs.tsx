import { NativeSelect, Switch } from "@mantine/core";
import type { Part } from "../../api/client";
import { readFigure, readNumber, readTeeth, ValueField } from "../../fields/ValueField";
import { tidy } from "../../machine/parts";
import { type Field, getField, setField } from "../../machine/parts/fields";

export function Optional({ label, on, onSet }: { label: string; on: boolean; onSet: (on: boolean) => void }) {
  return <Switch size="xs" label={label} checked={on} onChange={(e) => onSet(e.currentTarget.checked)} />;
}

export function NumberField({
  label,
  value,
  error,
  onSet,
}: {
  label: string;
  value?: number;
  error?: string;
  onSet: (v: number | undefined) => void;
}) {
  return (
    <ValueField
      size="xs"
      label={label}
      inputMode="decimal"
      value={value}
      read={readNumber}
      error={error}
      onSet={onSet}
    />
  );
}

export const benchFields = new Set([
  "ring",
  "pinion",
  "ratio",
  "sun",
  "gear",
  "drive",
  "driven",
  "second.sun",
  "second.ring",
]);

export function FieldInput({
  field: f,
  part,
  error,
  fixed,
  onPart,
}: {
  field: Field;
  part: Part;
  error?: string;
  fixed?: boolean;
  onPart: (p: Part) => void;
}) {
  const value = getField(part, f.path);
  if (f.type === "choice") {
    return (
      <NativeSelect
        size="xs"
        label={f.label}
        value={String(value ?? f.options?.[0]?.value ?? "")}
        data={f.options ?? []}
        error={error}
        onChange={(e) => onPart(tidy(setField(part, f.path, e.currentTarget.value || undefined)))}
      />
    );
  }
  if (f.type === "yes") {
    return (
      <Switch
        size="xs"
        label={f.label}
        checked={Boolean(value)}
        onChange={(e) => onPart(setField(part, f.path, e.currentTarget.checked || undefined))}
      />
    );
  }
  const shared = {
    size: "xs",
    label: f.label,
    disabled: fixed,
    title: fixed ? "measured at the bench; change it there" : undefined,
    description: f.hint,
    error,
  } as const;
  if (f.type === "figure") {
    return (
      <ValueField
        {...shared}
        value={value === undefined || value === 0 ? undefined : String(value)}
        read={readFigure}
        onSet={(v) => onPart(setField(part, f.path, v))}
      />
    );
  }
  return (
    <ValueField
      {...shared}
      inputMode="decimal"
      value={value ? Number(value) : undefined}
      read={f.type === "teeth" ? readTeeth : readNumber}
      onSet={(v) => onPart(setField(part, f.path, v))}
    />
  );
}
