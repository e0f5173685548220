import { TextInput } from "@mantine/core";
import type { ReactNode } from "react";
import type { Refused } from "../api/client";

type More = { placeholder?: string; description?: string; numeric?: boolean; bare?: boolean; width?: number };

/**
 * Text fields of a form, each with its fault: texts(form, set, refused, "/axle")("Ring", "ring", { placeholder: "41" }). A field's
 * key is its name in the question, unless another is given.
 */
export function texts<F extends Record<K, string>, K extends string>(
  form: F,
  set: (v: Partial<Record<K, string>>) => void,
  refused: Refused | undefined,
  at: string,
) {
  return (label: string, k: K, more: More = {}, field: string = k): ReactNode => (
    <TextInput
      key={k}
      label={more.bare ? undefined : label}
      aria-label={more.bare ? label : undefined}
      placeholder={more.placeholder}
      description={more.description}
      inputMode={more.numeric ? "decimal" : undefined}
      autoComplete="off"
      w={more.width}
      value={form[k]}
      onChange={(e) => set({ [k]: e.currentTarget.value } as Partial<Record<K, string>>)}
      error={refused?.within(`${at}/${field}`)}
    />
  );
}
