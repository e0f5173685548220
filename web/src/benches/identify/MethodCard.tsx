import { Alert, Button, NativeSelect, Radio, SegmentedControl, Switch, TextInput } from "@mantine/core";
import { type FormEvent, useEffect, useRef } from "react";
import { api, type Method, type Question, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { MethodPicture } from "../../drawing/MethodPicture";
import { lengthUnit, speedUnit, type Units } from "../../format/numbers";
import { memberWords, methodWords } from "../../format/words";
import type { Draft } from "./draft";
import { stepsFor } from "./methods";
import { ShaftInput } from "./ShaftInput";
import { Steps } from "./Steps";
import "./identify.css";

type Props = {
  method: Method;
  question: Question;
  draft: Draft;
  onDraft: (d: Draft) => void;
  members: string[];
  units: Units;
  blind: boolean;
  onBlind: (b: boolean) => void;
  others: number;
  error: (field: string) => string | undefined;
  summary?: string;
  /** Something that was entered can't be. */
  wrong: boolean;
  onCount: (target: string) => void;
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
  const steps = stepsFor(method, question.kind, p.blind);
  return (
    <form ref={form} className="method-card" onSubmit={submit} aria-label={methodWords[method]}>
      <header>
        <h2>{methodWords[method]}</h2>
        {p.others > 0 && (
          <Switch
            size="sm"
            label="Count blind"
            title="Hide the other readings and the verdict until this one is kept"
            checked={p.blind}
            onChange={(e) => p.onBlind(e.currentTarget.checked)}
          />
        )}
      </header>
      <div className="how-to">
        <MethodPicture method={method} kind={question.kind} />
        <Steps steps={steps} />
      </div>
      <div className="stack fields">
        {(method === "tag" || method === "stamp") && <MarkInput {...p} set={set} />}
        {method === "teeth" && (
          <div className="members">
            {p.members.map((m) => (
              <div className="with-button" key={m}>
                <TextInput
                  label={memberWords[m] ?? m}
                  inputMode="numeric"
                  value={draft.teeth[m] ?? ""}
                  onChange={(e) => set({ teeth: { ...draft.teeth, [m]: e.currentTarget.value } })}
                  error={p.error(`teeth/${m}`)}
                />
                <Button
                  variant="default"
                  aria-label={`Count ${memberWords[m] ?? m}`}
                  onClick={() => p.onCount(`teeth/${m}`)}
                >
                  Count
                </Button>
              </div>
            ))}
            {p.error("/teeth") && <Alert color="red">{p.error("/teeth")}</Alert>}
          </div>
        )}
        {method === "turns" && <WheelsInput {...p} set={set} />}
        {method === "bench" && (
          <div className="two">
            <TextInput
              label="Output turns made"
              inputMode="decimal"
              value={draft.output}
              onChange={(e) => set({ output: e.currentTarget.value })}
              error={p.error("bench/output_turns")}
            />
            {(question.kind === "ring_and_pinion" || question.kind === "two_stage") && (
              <NativeSelect
                label="The outputs"
                value={draft.outputs}
                onChange={(e) => set({ outputs: e.currentTarget.value as Draft["outputs"] })}
                data={[
                  { value: "joined", label: "joined, turning together" },
                  { value: "one_held", label: "one held, one turned" },
                  { value: "single", label: "a single output" },
                ]}
              />
            )}
          </div>
        )}
        {(method === "turns" || method === "bench") && (
          <ShaftInput
            name={method === "turns" ? "Flange of the drive shaft" : "Input shaft"}
            value={draft.shaft}
            onChange={(shaft) => set({ shaft })}
            path={`${method}/shaft`}
            error={p.error}
            onCount={() => p.onCount("shaft")}
            units={p.units}
          />
        )}
        {method === "road" && <RoadInput {...p} set={set} />}
        {p.summary && <p className="echo">Understood: {p.summary}.</p>}
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
            Keep this reading
          </Button>
          <Button variant="subtle" onClick={p.onCancel}>
            Back
          </Button>
        </div>
      </div>
    </form>
  );
}

type Said = { text: string; as: "mark" | "talk" | "shaft"; stage: Question };

/** What the program understood of words, once the typing rests. */
const useEcho = (q: Said, ready: boolean) =>
  useCalc(key.echo, q, (body) => take(api.POST("/calc/echo", { body })), { ready, rest: 200, keep: false });

type Part = Props & { set: (v: Partial<Draft>) => void };

function MarkInput({ method, draft, set, question, error }: Part) {
  const { answer: e } = useEcho({ text: draft.text, as: "mark", stage: question }, draft.text.trim() !== "");
  return (
    <>
      <TextInput
        label={method === "tag" ? "The tag says" : "The stamp says"}
        placeholder={method === "tag" ? "4.10 or four-ten" : "47 9 or 522"}
        value={draft.text}
        onChange={(ev) => set({ text: ev.currentTarget.value })}
        error={error("/text")}
      />
      {e && (
        <div className="echo" aria-live="polite">
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

/** Words that are said both ways are asked about before they are saved. */
function NoteEcho({ draft, set, question }: Part) {
  const said = /\b(?:(?:higher|lower|high|low) (?:gears?|gear ratio|ratio)|splines?)\b/i.exec(draft.note)?.[0] ?? "";
  const { answer } = useEcho({ text: said, as: "talk", stage: question }, said !== "");
  if (!answer) return null;
  return (
    <div className="echo" aria-live="polite">
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

function WheelsInput({ draft, set, error }: Part) {
  return (
    <>
      <SegmentedControl
        size="xs"
        fullWidth
        aria-label="What the wheels did"
        value={draft.wheels}
        onChange={(v) => set({ wheels: v as Draft["wheels"] })}
        data={[
          { value: "both", label: "Both turned together" },
          { value: "one", label: "One turned, one held" },
          { value: "each", label: "Each its own" },
        ]}
      />
      {draft.wheels === "each" ? (
        <div className="two">
          <TextInput
            label="Left wheel, turns"
            inputMode="decimal"
            value={draft.left}
            onChange={(e) => set({ left: e.currentTarget.value })}
            error={error("turns/left/turns")}
          />
          <TextInput
            label="Right wheel, turns"
            inputMode="decimal"
            value={draft.right}
            onChange={(e) => set({ right: e.currentTarget.value })}
            error={error("turns/right/turns")}
          />
        </div>
      ) : (
        <div className="two">
          <TextInput
            label="Wheel turns"
            inputMode="decimal"
            value={draft.wheelTurns}
            onChange={(e) => set({ wheelTurns: e.currentTarget.value })}
            error={error("turns/left/turns") ?? error("turns/right/turns")}
          />
          <Radio.Group
            label="The other wheel"
            value={draft.other}
            onChange={(v) => set({ other: v as Draft["other"] })}
            error={error("turns/right/seen")}
          >
            <Radio
              value="seen"
              label={draft.wheels === "both" ? "I saw it turn along" : "I held it, or saw it stand still"}
            />
            <Radio value="assumed" label="Nobody watched it" />
          </Radio.Group>
        </div>
      )}
    </>
  );
}

function RoadInput({ draft, set, error, units }: Part) {
  const other = (i: number) => ({
    value: draft.others[i] ?? "",
    onChange: (e: { currentTarget: { value: string } }) =>
      set({ others: draft.others.map((o, k) => (k === i ? e.currentTarget.value : o)) }),
    error: error(`road/others/${i}`),
  });
  return (
    <div className="two">
      <TextInput
        label="Engine speed, rpm"
        inputMode="numeric"
        value={draft.rpm}
        onChange={(e) => set({ rpm: e.currentTarget.value })}
        error={error("road/rpm")}
      />
      <TextInput
        label={`True speed, ${speedUnit(units)}`}
        inputMode="decimal"
        value={draft.speed}
        onChange={(e) => set({ speed: e.currentTarget.value })}
        error={error("road/speed_kmh")}
      />
      <TextInput
        label={`Rolling circumference, ${lengthUnit(units)}`}
        inputMode="decimal"
        value={draft.rolling}
        onChange={(e) => set({ rolling: e.currentTarget.value })}
        error={error("road/rolling_mm")}
      />
      <NativeSelect
        label="Between engine and gearbox"
        value={draft.converter}
        onChange={(e) => set({ converter: e.currentTarget.value as Draft["converter"] })}
        data={[
          { value: "locked", label: "converter, locked" },
          { value: "open", label: "converter, not locked" },
          { value: "clutch", label: "clutch" },
        ]}
      />
      <TextInput label="Gearbox gear, ratio" inputMode="decimal" {...other(0)} />
      <TextInput label="Transfer case, ratio" inputMode="decimal" {...other(1)} />
    </div>
  );
}
