import { Button, Checkbox, Select } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { api, type Doc, take } from "../../api/client";
import { Band } from "../../app/Band";
import { Waiting } from "../../app/Waiting";
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
import { testID } from "./tests";
import { type Search, useSearch } from "./useSearch";
import { Verdict } from "./Verdict";

const still = {};

type Props = { store: string; title: ReactNode; name: string; unit?: number; doc: Doc; choose?: ReactNode };

/** From the complaint to the broken part: suspects, what was tried, and the next test. */
export function FindBench({ store, title, name, unit, doc, choose }: Props) {
  const search = useSearch(store, doc);
  const { trace } = useTrace(doc, still);
  return (
    <>
      <Band className="no-print">
        <h1>{title}</h1>
        {choose}
      </Band>
      <main id="main" className="page wide">
        {trace && <PartShares doc={doc} trace={trace} parts={search.answer?.parts} of="Chances in 100" />}
        <div className={classes.three} data-told={search.told || undefined}>
          <Found doc={doc} search={search} />
          <Causes search={search} name={name} unit={unit} />
          <Next doc={doc} search={search} />
        </div>
        <More doc={doc} store={store} onSign={search.add} />
      </main>
    </>
  );
}

/** What it does, as it was told, and where it stands. */
function Found({ doc, search }: { doc: Doc; search: Search }) {
  const { form, set, add, startOver } = search;
  return (
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
  );
}

/** What may be broken, how likely, and why not another. */
function Causes({ search, name, unit }: { search: Search; name: string; unit?: number }) {
  const { answer, error, told, why, setWhy, question } = search;
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
          {question.priors && <p className="dim">How often parts break takes in this shop's own proved repairs.</p>}
        </>
      )}
    </section>
  );
}

/** The test that tells most, or what ends the search. */
function Next({ doc, search }: { doc: Doc; search: Search }) {
  const { test, tests, asking, given, setGiven, setOther, answer, saw, pick } = search;
  return (
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
  );
}
