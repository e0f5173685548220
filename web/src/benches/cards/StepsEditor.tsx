import { ActionIcon, Button, Checkbox, TextInput } from "@mantine/core";
import { IconArrowDown, IconArrowUp, IconPlus, IconTrash } from "@tabler/icons-react";
import { useState } from "react";
import type { WorkCard } from "../../api/client";
import classes from "./cards.module.css";

type Step = WorkCard["steps"][number];
type Props = { draft: WorkCard; setDraft: (c: WorkCard) => void; busy: boolean; keep: () => void; leave: () => void };

/** The steps of a card, in the shop's own words and order. */
export function StepsEditor({ draft, setDraft, busy, keep, leave }: Props) {
  const steps = draft.steps;
  const [opened, setOpened] = useState<string>();
  const put = (i: number, v: Partial<Step>) =>
    setDraft({ ...draft, steps: steps.map((s, k) => (k === i ? { ...s, ...v } : s)) });
  const move = (i: number, by: number) => {
    const list = [...steps];
    const [s] = list.splice(i, 1);
    if (s) list.splice(i + by, 0, s);
    setDraft({ ...draft, steps: list });
  };
  const add = (i: number) => {
    let n = steps.length + 1;
    while (steps.some((s) => s.id === `own_${n}`)) n++;
    const list = [...steps];
    list.splice(i, 0, { id: `own_${n}`, do: "" });
    setDraft({ ...draft, steps: list });
    setOpened(`own_${n}`);
  };
  return (
    <section className="stack" aria-label="Our way">
      <TextInput
        label="Title"
        value={draft.title}
        onChange={(e) => setDraft({ ...draft, title: e.currentTarget.value })}
      />
      <ol className={classes.editor}>
        {steps.map((s, i) => (
          <li key={s.id}>
            <div className="row spread">
              <b>
                {i + 1}. {s.do || "…"}
              </b>
              <StepMoves
                n={i + 1}
                of={steps.length}
                onMove={(by) => move(i, by)}
                onRemove={() => setDraft({ ...draft, steps: steps.filter((_, k) => k !== i) })}
              />
            </div>
            {opened !== s.id ? (
              <button type="button" className="linklike" onClick={() => setOpened(s.id)}>
                Change its words
              </button>
            ) : (
              <StepFields s={s} put={(v) => put(i, v)} />
            )}
            <Button size="compact-xs" variant="subtle" leftSection={<IconPlus size={14} />} onClick={() => add(i + 1)}>
              Add a step after it
            </Button>
          </li>
        ))}
      </ol>
      <div className="row">
        <Button loading={busy} onClick={keep}>
          Save as our own
        </Button>
        <Button variant="default" onClick={leave}>
          Leave
        </Button>
      </div>
    </section>
  );
}

interface Moves {
  n: number;
  of: number;
  onMove: (by: number) => void;
  onRemove: () => void;
}

/** Up, down, away. */
function StepMoves({ n, of, onMove, onRemove }: Moves) {
  return (
    <span className="row">
      <ActionIcon variant="default" aria-label={`Step ${n} up`} disabled={n === 1} onClick={() => onMove(-1)}>
        <IconArrowUp size={16} />
      </ActionIcon>
      <ActionIcon variant="default" aria-label={`Step ${n} down`} disabled={n === of} onClick={() => onMove(1)}>
        <IconArrowDown size={16} />
      </ActionIcon>
      <ActionIcon variant="default" aria-label={`Remove step ${n}`} disabled={of === 1} onClick={onRemove}>
        <IconTrash size={16} />
      </ActionIcon>
    </span>
  );
}

/** The words of a step, and what stops at it. */
function StepFields({ s, put }: { s: Step; put: (v: Partial<Step>) => void }) {
  const field = (k: "do" | "with" | "figure" | "look" | "caution" | "off" | "back", label: string) => (
    <TextInput
      label={label}
      value={s[k] ?? ""}
      maxLength={400}
      onChange={(e) => put({ [k]: e.currentTarget.value || (k === "do" ? "" : undefined) })}
    />
  );
  return (
    <div className={classes.editFields}>
      {field("do", "What is done")}
      {field("with", "With")}
      {field("figure", "Figure to write in")}
      {field("look", "What to look for")}
      {field("caution", "Caution")}
      {field("off", "What comes off")}
      {s.off && field("back", "How it goes back")}
      <Checkbox
        label="A second person looks"
        checked={s.hold ?? false}
        onChange={(e) => put({ hold: e.currentTarget.checked || undefined })}
      />
      <Checkbox
        label="Stop here until open items are answered"
        checked={s.gate ?? false}
        onChange={(e) => put({ gate: e.currentTarget.checked || undefined })}
      />
    </div>
  );
}
