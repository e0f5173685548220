import { useHotkeys } from "@mantine/hooks";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Doc, type FaultEvidence, type FaultTest, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { useSession } from "../../app/session";
import { useForm } from "../../form/useForm";
import { type Done, evidenceOf, givenOf, testID } from "./tests";

type Form = { done: Done[]; stands: boolean };
const noForm: Form = { done: [], stands: false };

/** A search for a fault: what was found so far, what it says, and the test that comes next. */
export function useSearch(store: string, doc: Doc) {
  const { form, set, startOver } = useForm<Form>(store, noForm);
  const [why, setWhy] = useState<string>();
  const [other, setOther] = useState<string>();
  const [given, setGiven] = useState<FaultTest[]>([]);
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
  return {
    form,
    set,
    startOver,
    why,
    setWhy,
    setOther,
    given,
    setGiven,
    question,
    answer,
    error,
    asking,
    told,
    add,
    tests,
    test,
    saw,
    pick,
  };
}

export type Search = ReturnType<typeof useSearch>;
