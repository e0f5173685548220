import { NativeSelect, SegmentedControl, TextInput } from "@mantine/core";
import { type ChangeEvent, type ReactNode, useId } from "react";
import type { Refused } from "../api/client";
import type { Pointer } from "./pointer";

/** The entries of a form that hold text (or one of several words). */
type Texts<F> = { [K in keyof F]: F[K] extends string | undefined ? K : never }[keyof F] & string;

type More = {
  placeholder?: string;
  description?: ReactNode;
  numeric?: boolean;
  /** Not a number, where the others of the form are. */
  words?: boolean;
  /** Its label is only said. */
  bare?: boolean;
  width?: number;
  disabled?: boolean;
  /** The id of a list that it is offered from. */
  list?: string;
};

/**
 * Where in the question an entry goes; to be said where it isn't the entry's own name. A name that the question doesn't have
 * doesn't compile. Null is one that goes nowhere by itself.
 */
type Place<Q, K> = K extends Pointer<Q> ? { field?: Pointer<Q> | null } : { field: Pointer<Q> | null };
type Rest<Q, K, M> = K extends Pointer<Q> ? [more?: M & Place<Q, K>] : [more: M & Place<Q, K>];

type Option = { value: string; label: string } | string;

type Options = {
  /** Where the question lies in the request: "/axle". */
  at?: string;
  /** Its texts are numbers. */
  numeric?: boolean;
  size?: "xs" | "sm";
};

/**
 * Fields of a form, each bound to its place in the question Q: what was refused there stands at the field.
 *
 *     const f = bind<Form, PropRequest>(form, set, refused, { numeric: true });
 *     f.text("Engine rpm, steady", "rpm", { placeholder: "5000" })
 */
export function bind<F extends object, Q>(
  form: F,
  set: (change: Partial<F>) => void,
  refused: Refused | undefined,
  { at = "", numeric, size }: Options = {},
) {
  const put = (k: keyof F, v: unknown) => set({ [k]: v } as Partial<F>);
  const fault = (field: Pointer<Q> | null) => (field === null ? undefined : refused?.within(`${at}/${field}`));
  const placeOf = (k: string, more: object) =>
    "field" in more ? (more.field as Pointer<Q> | null) : (k as unknown as Pointer<Q>);
  /** What every input of a name has. */
  const alike = (label: string, k: Texts<F>, more: More) => ({
    size,
    label: more.bare ? undefined : label,
    "aria-label": more.bare ? label : undefined,
    description: more.description,
    w: more.width,
    disabled: more.disabled,
    value: String(form[k] ?? ""),
    onChange: (e: ChangeEvent<HTMLInputElement | HTMLSelectElement>) => put(k, e.currentTarget.value),
    error: fault(placeOf(String(k), more)),
  });
  return {
    /** What was refused at a place, or within it. */
    fault,
    text<K extends Texts<F>>(label: string, k: K, ...[given]: Rest<Q, K, More>): ReactNode {
      const more: More = given ?? {};
      return (
        <TextInput
          {...alike(label, k, more)}
          key={k}
          placeholder={more.placeholder}
          inputMode={(more.numeric ?? (numeric && !more.words)) ? "decimal" : undefined}
          autoComplete="off"
          list={more.list}
        />
      );
    },
    choice<K extends Texts<F>>(label: string, k: K, options: Option[], ...[given]: Rest<Q, K, More>): ReactNode {
      return <NativeSelect {...alike(label, k, given ?? {})} key={k} data={options} />;
    },
    /** A few words of which one holds, side by side. */
    segments<K extends Texts<F>>(label: string, k: K, options: Option[], more: { bare?: boolean } = {}): ReactNode {
      return (
        <Segments
          key={k}
          label={label}
          bare={more.bare}
          value={String(form[k])}
          options={options}
          onChange={(v) => put(k, v)}
        />
      );
    },
  };
}

type SegmentsProps = {
  label: string;
  bare?: boolean;
  value: string;
  options: Option[];
  onChange: (v: string) => void;
};

function Segments({ label, bare, value, options, onChange }: SegmentsProps) {
  const id = useId();
  const control = (
    <SegmentedControl
      fullWidth
      size="sm"
      aria-label={bare ? label : undefined}
      aria-labelledby={bare ? undefined : id}
      value={value}
      onChange={onChange}
      data={options}
    />
  );
  if (bare) return control;
  return (
    <div>
      <span className="field-label" id={id}>
        {label}
      </span>
      {control}
    </div>
  );
}
