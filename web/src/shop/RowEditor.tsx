import { Button } from "@mantine/core";
import { useForm } from "@mantine/form";
import { type KeyboardEvent, useEffect, useLayoutEffect, useRef } from "react";
import { type CatalogColumn, type CatalogList, Refused } from "../api/client";
import classes from "./catalog.module.css";
import { type Editing, isNumber } from "./useList";

type Props = {
  list: CatalogList;
  row: Editing;
  busy: boolean;
  error: Error | null;
  onKeep: (e: Editing) => void;
  onLeave: () => void;
};

/** A row of a list while it is typed into. */
export function RowEditor({ list, row, busy, error, onKeep, onLeave }: Props) {
  const form = useForm({ mode: "controlled", initialValues: row.cells });
  const at = useRef<HTMLTableRowElement>(null);
  const refused = error instanceof Refused ? error : undefined;
  const { setErrors } = form;
  useEffect(() => {
    setErrors(Object.fromEntries(list.columns.map((c) => [c.key, refused?.field(`/cells/${c.key}`)])));
  }, [refused, list, setErrors]);
  // The field that was pressed, or the first, is ready to be typed into.
  useLayoutEffect(() => {
    const find = (css: string) => at.current?.querySelector<HTMLElement>(css);
    (find(`[data-cell="${row.first}"]`) ?? find("[data-cell]"))?.focus();
  }, [row.first]);
  const keep = () => onKeep({ ...row, cells: form.values });
  const keys = (e: KeyboardEvent) => {
    if (e.key === "Escape") onLeave();
    if (e.key === "Enter") {
      e.preventDefault();
      keep();
    }
  };
  const general = refused?.within("/cells") ? undefined : error?.message;
  return (
    <tr ref={at} className={classes.editing} onKeyDown={keys}>
      {list.columns.map((c) => (
        <td key={c.key}>
          <Cell c={c} value={form.values[c.key] ?? ""} wrong={Boolean(form.errors[c.key])} form={form} />
          {form.errors[c.key] && <small className="trouble">{form.errors[c.key]}</small>}
        </td>
      ))}
      <td className={classes.tools}>
        <Button size="compact-sm" loading={busy} onClick={keep}>
          Save
        </Button>
        <button type="button" className="linklike" onClick={onLeave}>
          Leave
        </button>
        {general && <small className="trouble">{general}</small>}
      </td>
    </tr>
  );
}

type Form = { setFieldValue: (path: string, value: string) => void };

function Cell({ c, value, wrong, form }: { c: CatalogColumn; value: string; wrong: boolean; form: Form }) {
  const label = `${c.name}${c.unit ? `, ${c.unit}` : ""}`;
  const shared = { "data-cell": c.key, "aria-label": label, "aria-invalid": wrong, value };
  if (c.type === "choice")
    return (
      <select {...shared} onChange={(x) => form.setFieldValue(c.key, x.currentTarget.value)}>
        {!c.required && <option value="">any</option>}
        {c.required && !value && <option value="">choose</option>}
        {c.choices?.map((o) => (
          <option key={o.value} value={o.value}>
            {o.words}
          </option>
        ))}
      </select>
    );
  return (
    <input
      {...shared}
      title={c.help}
      inputMode={c.type === "whole" ? "numeric" : isNumber(c) ? "decimal" : undefined}
      maxLength={200}
      onChange={(x) => form.setFieldValue(c.key, x.currentTarget.value)}
    />
  );
}
