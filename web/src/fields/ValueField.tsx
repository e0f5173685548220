import { TextInput, type TextInputProps } from "@mantine/core";
import { useState } from "react";
import { typed } from "../format/numbers";

/** Reads what was typed: a value, nothing, or what would be right. */
export type Read<T> = (text: string) => { value: T | undefined } | { expected: string };

type Props<T> = Omit<TextInputProps, "value" | "onChange"> & {
  value: T | undefined;
  read: Read<T>;
  print?: (v: T) => string;
  onSet: (v: T | undefined) => void;
};

/**
 * A field that follows its value. While it is typed in, the text stands as typed; when the value becomes another one
 * by any other way (undo, a row taken out, another part chosen) the field shows that. Text that can't be read stays,
 * with what would be right.
 */
export function ValueField<T>({ value, read, print = String, onSet, error, ...rest }: Props<T>) {
  const shown = value === undefined ? "" : print(value);
  const [draft, setDraft] = useState<{ text: string; made: string }>();
  const text = draft?.made === shown ? draft.text : shown;
  const r = read(text);
  return (
    <TextInput
      {...rest}
      value={text}
      error={"expected" in r ? r.expected : error}
      onChange={(e) => {
        const t = e.currentTarget.value;
        const next = read(t);
        if ("expected" in next) {
          setDraft({ text: t, made: shown });
          return;
        }
        setDraft({ text: t, made: next.value === undefined ? "" : print(next.value) });
        onSet(next.value);
      }}
    />
  );
}

/** A number with point or comma. */
export const readNumber: Read<number> = (text) => {
  const n = typed(text);
  return Number.isNaN(n) ? { expected: "Enter a number" } : { value: n };
};

/** A count of teeth. */
export const readTeeth: Read<number> = (text) => {
  const t = text.trim();
  if (t === "") return { value: undefined };
  return /^\d{1,6}$/.test(t) ? { value: Number(t) } : { expected: "Enter a whole number" };
};

const figure = /^[+-]?\d+([.,]\d+)?(\s*\/\s*\d+([.,]\d+)?)?$/;

/** A decimal or a fraction, kept as it is written. */
export const readFigure: Read<string> = (text) => {
  const t = text.trim().replace("−", "-");
  if (t === "") return { value: undefined };
  return figure.test(t)
    ? { value: t.replaceAll(",", ".") }
    : { expected: "Enter a number or fraction, for example 4.1 or 41/10" };
};
