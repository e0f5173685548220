import { Button, Checkbox, Select } from "@mantine/core";
import { useHotkeys } from "@mantine/hooks";
import { useMutation, useQuery } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { api, type Doc, type FaultEvidence, type FaultTest, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { useSession } from "../../app/session";
import { Waiting } from "../../app/Waiting";
import { useForm } from "../../form/useForm";
import { chance } from "../../format/numbers";
import { PartShares } from "../../machine/PartShares";
import { useTrace } from "../../machine/useTrace";
import { KeepWithUnit } from "../KeepWithUnit";
import { Complaints } from "./Complaints";
import classes from "./findfault.module.css";
import { More } from "./More";
import { NextTest } from "./NextTest";
import { Seen } from "./Seen";
import { Speaks, Suspects } from "./Suspects";
import { type Done, evidenceOf, givenOf, testID } from "./tests";
import { Verdict } from "./Verdict";

type Form = { done: Done[]; stands: boolean };
const noForm: Form = { done: [], stands: false };
const still = {};

type Props = { store: string; title: ReactNode; name: string; unit?: number; doc: Doc; choose?: ReactNode };

/** From the complaint to the broken part: suspects, what was tried, and the next test. */
export function FindBench({ store, title, name, unit, doc, choose }: Props) {
  const { form, set, startOver } = useForm<Form>(store, noForm);
  const [why, setWhy] = useState<string>();
  const [other, setOther] = useState<string>();
  const [given, setGiven] = useState<FaultTest[]>([]);
  const { trace } = useTrace(doc, still);
  const signedIn = Boolean(useSession().data?.person);
  const shop = useQuery({ queryKey: key.faultRecord(), queryFn: () => take(api.GET("/faults")), enabled: signedIn });
  const question = {
    driveline: doc,
    evidence: form.done.flatMap((d) => d.evidence),
    on_stands: form.stands || undefined,
    why,
    given: given.length > 0 ? given.map(givenOf) : undefined,
    priors: shop.data?.record.proved ? shop.data.record.priors : undefined,
  };
  const { answer, error, asking } = useCalc(
    key.findFault,
    question,
    (body, signal) => take(api.POST("/calc/find-fault", { body, signal })),
    { rest: 0 },
  );
  const told = form.done.length > 0;
  const add = (d: Done, stands = form.stands) => {
    setOther(undefined);
    set({ done: [...form.done, d], stands });
  };
  const tests = answer?.next ? [answer.next, ...answer.others] : [];
  const test = tests.find((t) => testID(t) === other) ?? tests[0];
  const saw = (e: FaultEvidence, what: string) =>
    test &&
    add(
      { title: [test.title, ...test.setup].join("; "), what, evidence: [{ ...e, words: test.title }] },
      form.stands || Boolean(test.lifts),
    );
  const pick = (i: number) => {
    const o = test?.outcomes[i];
    if (test && o && !asking) saw(evidenceOf(test, o), o.says === "no" ? "no" : o.words);
  };
  useHotkeys(["1", "2", "3", "4", "5", "6"].map((k, i) => [k, () => pick(i)]));
  const paper = useMutation({
    mutationFn: async () => {
      const blob = await take(
        api.POST("/calc/find-fault/pdf", { body: { fault: question, title: name }, parseAs: "blob" }),
      );
      const a = document.createElement("a");
      a.href = URL.createObjectURL(blob as unknown as Blob);
      a.download = `${name} find the fault.pdf`;
      a.click();
      URL.revokeObjectURL(a.href);
    },
  });
  return (
    <>
      <div className="band no-print">
        <h1>{title}</h1>
        {choose}
      </div>
      <main id="main" className="page wide">
        {trace && <PartShares doc={doc} trace={trace} parts={answer?.parts} of="Chances in 100" />}
        <div className={classes.three} data-told={told || undefined}>
          <section aria-label="What you found">
            <h2>What it does</h2>
            <Complaints doc={doc} first={form.done.length === 0} onPick={add} />
            <Seen done={form.done} onBack={(i) => set({ done: form.done.filter((_, k) => k !== i) })} />
            <Checkbox
              label={doc.lies === "vehicle" ? "On jack stands, all wheels off the ground" : "Propeller free to turn"}
              checked={form.stands}
              onChange={(e) => set({ stands: e.currentTarget.checked })}
            />
            {form.done.length > 0 && (
              <Button variant="default" size="compact-md" onClick={startOver}>
                Start over
              </Button>
            )}
          </section>
          <section aria-label="Suspects" aria-live="polite">
            {!answer && <Waiting title="Which part is it?" missing={[]} error={error} />}
            {answer && (
              <>
                <Suspects answer={answer} told={told} />
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
                      {answer.asked.name}: {chance(answer.asked.probability)}
                    </b>
                    <Speaks suspect={answer.asked} />
                  </div>
                )}
                {told && (
                  <div className="row">
                    <KeepWithUnit unit={unit} record={{ kind: "fault", fault: question }} />
                    <Button variant="default" loading={paper.isPending} onClick={() => paper.mutate()}>
                      Print the findings
                    </Button>
                  </div>
                )}
                {paper.error && <p className="trouble">{paper.error.message}</p>}
                {question.priors && (
                  <p className="dim">How often parts break takes in this shop's own proved repairs.</p>
                )}
              </>
            )}
          </section>
          <section aria-label="Next test" aria-live="polite">
            {test && (
              <NextTest
                key={testID(test)}
                doc={doc}
                test={test}
                asking={asking}
                others={tests.filter((t) => t !== test)}
                given={given}
                onGiven={(list) => {
                  setOther(undefined);
                  setGiven(list);
                }}
                withheld={answer?.withheld ?? []}
                onSaw={saw}
                onPick={pick}
                onOther={(t) => setOther(testID(t))}
              />
            )}
            {!test && given.length > 0 && (
              <p>
                None of the checked tests tells us more.{" "}
                <button type="button" className="linklike" onClick={() => setGiven([])}>
                  All tests again
                </button>
              </p>
            )}
            {answer && <Verdict answer={answer} doc={doc} ended={!test} />}
          </section>
        </div>
        <More doc={doc} store={store} onSign={add} />
      </main>
    </>
  );
}
