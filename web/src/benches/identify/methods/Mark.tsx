import { Button, TextInput } from "@mantine/core";
import classes from "../identify.module.css";
import { FieldPhoto } from "./FieldPhoto";
import type { FieldsProps } from "./method";
import { useEcho } from "./useEcho";

/** What a tag or stamp says, and what it is understood as. */
export function Mark({
  label,
  like,
  of,
  draft,
  set,
  question,
  error,
}: FieldsProps & { label: string; like: string; of: string }) {
  const { answer: e } = useEcho({ text: draft.text, as: "mark", stage: question }, draft.text.trim() !== "");
  return (
    <>
      <FieldPhoto of={of} />
      <TextInput
        label={label}
        placeholder={like}
        value={draft.text}
        onChange={(ev) => set({ text: ev.currentTarget.value })}
        error={error("/text")}
      />
      {e && (
        <div className={classes.echo} aria-live="polite">
          {e.sentence}
          {e.choices.length > 1 && (
            <div className="row wrap">
              {e.choices.map((c) => (
                <Button key={c.text} size="compact-sm" variant="default" onClick={() => set({ text: c.text })}>
                  {c.text}
                </Button>
              ))}
            </div>
          )}
        </div>
      )}
    </>
  );
}
