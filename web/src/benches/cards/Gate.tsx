import { Button, NativeSelect, TextInput } from "@mantine/core";
import { useState } from "react";
import type { NewCardEntry, WorkSheet } from "../../api/client";
import classes from "./cards.module.css";
import { entryKey } from "./useRun";

/** What is open on the unit, answered one by one before it is closed. */
export function Gate({ sheet, settle }: { sheet: WorkSheet; settle: (b: NewCardEntry) => void }) {
  const [why, setWhy] = useState<Record<string, { answer: string; note: string }>>({});
  const open = sheet.gate.filter((g) => !g.answer);
  if (sheet.gate.length === 0) return <p className="dim">Nothing else is open on this unit.</p>;
  return (
    <fieldset className={classes.gate}>
      <legend>Open items: done, ordered, or not now and why</legend>
      {open.length === 0 && <p>Every open item has an answer.</p>}
      {open.map((g) => {
        const v = why[g.id] ?? { answer: "done", note: "" };
        const set = (c: Partial<typeof v>) => setWhy({ ...why, [g.id]: { ...v, ...c } });
        return (
          <div key={g.id} className={classes.item}>
            <p>
              <b>{g.what}</b>
              <small>{g.why}</small>
            </p>
            <NativeSelect
              aria-label={`${g.what}: answer`}
              value={v.answer}
              onChange={(e) => set({ answer: e.currentTarget.value })}
              data={[
                { value: "done", label: "done" },
                { value: "ordered", label: "ordered" },
                { value: "not_now", label: "not now" },
              ]}
            />
            <TextInput
              aria-label={`${g.what}: note`}
              placeholder={v.answer === "not_now" ? "why not" : "note"}
              value={v.note}
              maxLength={400}
              onChange={(e) => set({ note: e.currentTarget.value })}
            />
            <Button
              variant="default"
              disabled={v.answer === "not_now" && !v.note.trim()}
              onClick={() =>
                settle({
                  key: entryKey(),
                  kind: "gate",
                  step: g.id,
                  figure: v.answer,
                  note: v.note.trim() || undefined,
                })
              }
            >
              Answer
            </Button>
          </div>
        );
      })}
    </fieldset>
  );
}
