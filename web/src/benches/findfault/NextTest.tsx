import { Button, Checkbox, TextInput } from "@mantine/core";
import { useState } from "react";
import type { Doc, FaultAnswer, FaultEvidence, FaultTest } from "../../api/client";
import { chance, minutes, typed } from "../../format/numbers";
import classes from "./findfault.module.css";
import { TestDrawing } from "./TestDrawing";
import { evidenceOf, testID } from "./tests";

type Props = {
  doc: Doc;
  test: FaultTest;
  asking: boolean;
  others: FaultTest[];
  /** Those ticked as the ones that can be made here; none is all. */
  given: FaultTest[];
  onGiven: (list: FaultTest[]) => void;
  withheld: FaultAnswer["withheld"];
  onSaw: (e: FaultEvidence, what: string) => void;
  onPick: (i: number) => void;
  onOther: (t: FaultTest) => void;
};

/** A test as a card: how it is set up, its drawing, and one tap for what was seen. */
export function NextTest({ doc, test, asking, others, given, onGiven, withheld, onSaw, onPick, onOther }: Props) {
  const [value, setValue] = useState("");
  const figure = typed(value);
  const ok = figure !== undefined && Math.abs(figure) <= 500;
  const ticked = (t: FaultTest) => given.some((g) => testID(g) === testID(t));
  const all = [test, ...others, ...given.filter((g) => ![test, ...others].some((t) => testID(t) === testID(g)))];
  const unknown = (): FaultEvidence =>
    test.sign
      ? { sign: test.sign, part: test.part, says: "unknown" }
      : { state: test.state, seen: (test.outcomes[0]?.seen ?? []).map((s) => ({ ...s, does: "unknown" })) };
  return (
    <>
      <div className={classes.card}>
        <p className={classes.kicker}>Next, about {minutes(test.minutes)}</p>
        <h2 className={classes.test}>{test.title}</h2>
        <ul>
          {test.setup.map((s) => (
            <li key={s}>{s}</li>
          ))}
        </ul>
        {test.cautions.map((c) => (
          <p key={c} className={classes.caution}>
            △ {c}
          </p>
        ))}
        <TestDrawing doc={doc} test={test} />
        <div className={classes.outcomes}>
          {test.outcomes.map((o, i) => (
            <button key={o.words} type="button" disabled={asking} onClick={() => onPick(i)}>
              <b>
                {i + 1} {o.words}
              </b>
              <small>
                then: {o.suspects.join("; ")} ({chance(o.probability)})
              </small>
            </button>
          ))}
          <button type="button" disabled={asking} onClick={() => onSaw(unknown(), "not known")}>
            <b>Don't know</b>
          </button>
        </div>
        {test.unit && (
          <form
            className="row"
            onSubmit={(e) => {
              e.preventDefault();
              const first = test.outcomes[0];
              if (figure === undefined || !first) return;
              onSaw({ ...evidenceOf(test, first), says: undefined, value: figure }, `${figure} ${test.unit}`);
            }}
          >
            <TextInput
              aria-label={`Measured, ${test.unit}`}
              placeholder={`or measured, ${test.unit}`}
              value={value}
              inputMode="decimal"
              autoComplete="off"
              onChange={(e) => setValue(e.currentTarget.value)}
              error={value.trim() && !ok ? "a figure from −500 to 500" : undefined}
            />
            <Button type="submit" variant="default" disabled={asking || !ok}>
              Add this
            </Button>
          </form>
        )}
      </div>
      {(others.length > 0 || given.length > 0 || withheld.length > 0) && (
        <details open={given.length > 0 || undefined}>
          <summary>Other tests</summary>
          <p className="dim">Check the ones you can do here: the best of them comes next.</p>
          <ul className={classes.others}>
            {all.map((t) => (
              <li key={testID(t)}>
                <Checkbox
                  aria-label={`Can be made here: ${[t.title, ...t.setup.slice(-1)].join(", ")}`}
                  checked={ticked(t)}
                  onChange={() => onGiven(ticked(t) ? given.filter((g) => testID(g) !== testID(t)) : [...given, t])}
                />
                <button type="button" className="linklike" onClick={() => onOther(t)}>
                  {[t.title, ...t.setup.slice(-1)].join(", ")}
                </button>{" "}
                <small className="dim">about {minutes(t.minutes)}</small>
              </li>
            ))}
            {withheld.map((w) => (
              <li key={w.why}>
                <s>{w.title}</s> <small>{w.why}</small>
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
