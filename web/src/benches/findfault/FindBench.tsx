import { Button, Checkbox, Select } from "@mantine/core";
import { useHotkeys } from "@mantine/hooks";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { api, type Doc, type FaultAnswer, type FaultEvidence, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { useKept } from "../../app/local";
import { Waiting } from "../../app/Waiting";
import { minutes, percent } from "../../format/numbers";
import { PartShares } from "../../machine/PartShares";
import { useTrace } from "../../machine/useTrace";
import { KeepWithUnit } from "../KeepWithUnit";
import classes from "./findfault.module.css";

type Done = { title: string; what: string; evidence: FaultEvidence[] };
type Form = { done: Done[]; stands: boolean };
const noForm: Form = { done: [], stands: false };
const still = {};

type Props = { store: string; title: ReactNode; unit?: number; doc: Doc; choose?: ReactNode };

/** From the complaint to the broken part: suspects, what was tried, and the next test. */
export function FindBench({ store, title, unit, doc, choose }: Props) {
  const [kept, keep] = useKept<Form>(store, noForm);
  const form = { ...noForm, ...kept };
  const set = (v: Partial<Form>) => keep({ ...form, ...v });
  const [why, setWhy] = useState<string>();
  const { trace } = useTrace(doc, still);
  const complaints = useQuery({
    queryKey: key.complaints(doc),
    queryFn: () => take(api.POST("/calc/find-fault/complaints", { body: { driveline: doc } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const question = {
    driveline: doc,
    evidence: form.done.flatMap((d) => d.evidence),
    on_stands: form.stands || undefined,
    why,
  };
  const { answer, error, asking } = useCalc(
    key.findFault,
    question,
    (body) => take(api.POST("/calc/find-fault", { body })),
    {
      ready: form.done.length > 0,
      rest: 0,
    },
  );
  const add = (d: Done, stands = form.stands) => set({ done: [...form.done, d], stands });
  const next = answer?.next;
  const saw = (i: number) => {
    const o = next?.outcomes[i];
    if (!next || !o) return;
    add(
      {
        title: `${next.title} (${next.setup.join("; ")})`,
        what: o.words,
        evidence: [{ state: next.state, seen: o.seen, words: next.title }],
      },
      form.stands || !next.road,
    );
  };
  useHotkeys(["1", "2", "3", "4", "5", "6"].map((k, i) => [k, () => saw(i)]));
  return (
    <>
      <div className="band no-print">
        <h1>{title}</h1>
        {choose}
      </div>
      <main id="main" className="page wide">
        {trace && <PartShares doc={doc} trace={trace} parts={answer?.parts} of="How likely, of 100" />}
        <div className={classes.three}>
          <section aria-label="What was seen">
            <h2>What it does</h2>
            <Select
              aria-label="Complaint"
              placeholder={form.done.length === 0 ? "what do they say?" : "and what else?"}
              searchable
              value={null}
              onChange={(v) => {
                const c = complaints.data?.find((x) => x.id === v);
                if (c) add({ title: c.words, what: "", evidence: c.evidence });
                // So that the keys of the next test aren't typed into this field.
                setTimeout(() => document.activeElement instanceof HTMLElement && document.activeElement.blur(), 0);
              }}
              data={(complaints.data ?? []).map((c) => ({ value: c.id, label: c.words }))}
            />
            <ol className={classes.done}>
              {form.done.map((d, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: tests are known by their order
                <li key={i}>
                  <b>{d.title}</b>
                  {d.what && <small>{d.what}</small>}
                  <button
                    type="button"
                    className="linklike"
                    onClick={() => set({ done: form.done.filter((_, k) => k !== i) })}
                  >
                    take it back
                  </button>
                </li>
              ))}
            </ol>
            <Checkbox
              label="It stands on stands, all wheels free"
              checked={form.stands}
              onChange={(e) => set({ stands: e.currentTarget.checked })}
            />
            {form.done.length > 0 && (
              <Button variant="default" size="compact-md" onClick={() => keep(noForm)}>
                Begin anew
              </Button>
            )}
          </section>
          <section aria-label="Suspects" aria-live="polite">
            {!answer && (
              <Waiting
                title="Which part it is"
                missing={[form.done.length === 0 && "what it does, or does not"]}
                error={error}
              />
            )}
            {answer && (
              <>
                <Suspects answer={answer} />
                <Select
                  label="Why not …?"
                  placeholder="any part"
                  searchable
                  clearable
                  value={why ?? null}
                  onChange={(v) => setWhy(v ?? undefined)}
                  data={answer.all.map((b) => ({ value: b.id, label: b.name }))}
                />
                {answer.asked && (
                  <div>
                    <b>
                      {answer.asked.name}: {percent(answer.asked.probability)}
                    </b>
                    <Speaks suspect={answer.asked} />
                  </div>
                )}
                <div className="row">
                  <KeepWithUnit unit={unit} record={{ kind: "fault", fault: question }} />
                </div>
              </>
            )}
          </section>
          <section aria-label="Next test" aria-live="polite">
            {next && (
              <>
                <p className={classes.kicker}>Next, about {minutes(next.minutes)}</p>
                <h2 className={classes.test}>{next.title}</h2>
                <ul>
                  {next.setup.map((s) => (
                    <li key={s}>{s}</li>
                  ))}
                </ul>
                {next.cautions.map((c) => (
                  <p key={c} className={classes.caution}>
                    △ {c}
                  </p>
                ))}
                <p>What do you see?</p>
                <div className={classes.outcomes}>
                  {next.outcomes.map((o, i) => (
                    <button key={o.words} type="button" disabled={asking} onClick={() => saw(i)}>
                      <b>
                        {i + 1} {o.words}
                      </b>
                      <small>
                        then: {o.suspects.join("; ")} ({percent(o.probability)})
                      </small>
                    </button>
                  ))}
                  <button
                    type="button"
                    onClick={() =>
                      add({
                        title: next.title,
                        what: "not seen",
                        evidence: [
                          {
                            state: next.state,
                            seen: (next.outcomes[0]?.seen ?? []).map((s) => ({ ...s, does: "unknown" })),
                          },
                        ],
                      })
                    }
                  >
                    <b>Don't know</b>
                  </button>
                </div>
              </>
            )}
            {answer && !next && answer.open.length > 0 && (
              <>
                <h2>Open, in this order</h2>
                <ol>
                  {answer.open.map((o) => (
                    <li key={o}>{o}</li>
                  ))}
                </ol>
              </>
            )}
            {answer && (
              <ul className="decide-cautions">
                {[...answer.drive, ...answer.cautions].map((c) => (
                  <li key={c}>{c}</li>
                ))}
              </ul>
            )}
          </section>
        </div>
      </main>
    </>
  );
}

function Suspects({ answer }: { answer: FaultAnswer }) {
  return (
    <>
      <div className="decide-plate">
        <div>
          <h2>{answer.sentence}</h2>
          {answer.clashes.map((c) => (
            <p key={c}>△ {c}</p>
          ))}
        </div>
      </div>
      <ol className={classes.suspects}>
        {answer.suspects
          .filter((s) => s.probability >= 0.01)
          .slice(0, 8)
          .map((s) => (
            <li key={s.id}>
              <details>
                <summary>
                  <span className={classes.bar} style={{ width: `${Math.max(2, s.probability * 100)}%` }} />
                  {s.name} <b>{percent(s.probability)}</b>
                </summary>
                <Speaks suspect={s} />
              </details>
            </li>
          ))}
      </ol>
      {answer.pairs.map((p) => (
        <p key={p.a + p.b} className="dim">
          Both at once: {p.a}, and {p.b} ({percent(p.probability)})
        </p>
      ))}
    </>
  );
}

/** What was seen that a suspect explains, and what it would have shown otherwise. */
function Speaks({ suspect: s }: { suspect: FaultAnswer["suspects"][number] }) {
  return (
    <>
      {s.for.map((f) => (
        <p key={f}>+ {f}</p>
      ))}
      {s.against.map((f) => (
        <p key={f}>− {f}</p>
      ))}
      {s.for.length + s.against.length === 0 && <p>Nothing speaks for or against it yet.</p>}
    </>
  );
}
