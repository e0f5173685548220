import { Alert, Button, Switch, TextInput } from "@mantine/core";
import { type FormEvent, useEffect, useRef } from "react";
import type { Method, Question, Verdict } from "../../api/client";
import type { Units } from "../../format/numbers";
import classes from "./identify.module.css";
import { MethodPicture } from "./MethodPicture";
import { methods, stepsFor } from "./methods";
import type { Draft } from "./methods/draft";
import { useEcho } from "./methods/useEcho";
import { Steps } from "./Steps";

type Props = {
  method: Method;
  question: Question;
  draft: Draft;
  onDraft: (d: Draft) => void;
  members: string[];
  units: Units;
  blind: boolean;
  verdict?: Verdict;
  onBlind: (b: boolean) => void;
  others: number;
  error: (field: string) => string | undefined;
  summary?: string;
  /** Something that was entered can't be. */
  wrong: boolean;
  onCount: (target: string) => void;
  onMethod: (m: Method, prepare: Partial<Draft>) => void;
  onKeep: () => void;
  onCancel: () => void;
};

/** One method: its steps, its picture, its caution and its fields. */
export function MethodCard(p: Props) {
  const { method, question, draft, onDraft } = p;
  const set = (v: Partial<Draft>) => onDraft({ ...draft, ...v });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    p.onKeep();
  };
  const form = useRef<HTMLFormElement>(null);
  // With a keyboard the first field is ready at once; on a touch screen that
  // would only raise the screen keyboard.
  useEffect(() => {
    if (window.matchMedia("(pointer: fine)").matches)
      form.current?.querySelector<HTMLElement>(".fields input")?.focus();
  }, []);
  const { Fields, name, readOff, underWay } = methods[method];
  const steps = stepsFor(method, question.kind, p.blind);
  return (
    <form ref={form} className={classes.methodCard} onSubmit={submit} aria-label={name}>
      <header>
        <h2>{name}</h2>
        {p.others > 0 && !readOff && (
          <Switch
            size="sm"
            label="Count blind"
            title="Hide the other readings and the verdict until this one is saved"
            checked={p.blind}
            onChange={(e) => p.onBlind(e.currentTarget.checked)}
          />
        )}
      </header>
      <div className="how-to">
        {!underWay?.(draft) && <MethodPicture method={method} kind={question.kind} />}
        <Steps steps={steps} />
      </div>
      <div className="stack fields">
        <Fields {...p} set={set} />
        {p.summary && <p className={classes.echo}>Understood: {p.summary}.</p>}
        {p.error("/method") && <Alert color="red">{p.error("/method")}</Alert>}
        <TextInput
          label="Note"
          placeholder="what the next person should know"
          maxLength={400}
          value={draft.note}
          onChange={(e) => set({ note: e.currentTarget.value })}
        />
        <NoteEcho {...p} set={set} />
        <div className="row">
          <Button type="submit" disabled={p.wrong} size="md">
            Save this reading
          </Button>
          <Button variant="subtle" onClick={p.onCancel}>
            Back
          </Button>
        </div>
      </div>
    </form>
  );
}

type Part = Props & { set: (v: Partial<Draft>) => void };

/** Words that are said both ways are asked about before they are saved. */
function NoteEcho({ draft, set, question }: Part) {
  const said = /\b(?:(?:higher|lower|high|low) (?:gears?|gear ratio|ratio)|splines?)\b/i.exec(draft.note)?.[0] ?? "";
  const { answer } = useEcho({ text: said, as: "talk", stage: question }, said !== "");
  if (!answer) return null;
  return (
    <div className={classes.echo} aria-live="polite">
      “{said}”: {answer.sentence}
      <div className="row wrap">
        {answer.choices.map((c) => (
          <Button
            key={c.text}
            size="compact-sm"
            variant="default"
            onClick={() => set({ note: draft.note.replace(said, /spline/i.test(said) ? c.text : `${c.text} gear`) })}
          >
            {c.sentence}
          </Button>
        ))}
      </div>
    </div>
  );
}
