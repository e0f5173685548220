import { useMemo } from "react";
import type { Method, Order, Question, Situation } from "../../api/client";
import type { Units } from "../../format/numbers";
import { methods, readDraft } from "./methods";
import type { Draft } from "./methods/draft";
import type { BenchReading } from "./model";
import { useVerdict } from "./useVerdict";

type Ask = {
  question: Question;
  readings: BenchReading[];
  situation: Situation;
  order?: Order;
  all: boolean;
  method: Method | "";
  draft: Draft;
  members: string[];
  units: Units;
  blindWanted: boolean;
};

/** What the kept readings mean, and what the one being taken would add. */
export function useWeighing({
  question,
  readings,
  situation,
  order,
  all,
  method,
  draft,
  members,
  units,
  blindWanted,
}: Ask) {
  const standing = readings.filter((r) => !r.struck && !r.former);
  const blind = blindWanted && standing.length > 0 && method !== "" && !methods[method].readOff;
  const understood = method ? readDraft(method, draft, members, units) : { notNumbers: {}, missing: {} };
  const drafted = understood.reading;
  const committed = standing.map((r) => ({ ...r.reading, id: r.key }));

  const candidates = all ? 1000 : undefined;
  const base = useVerdict({ stage: question, readings: committed, situation, order, candidates });
  // The reading being taken: checked at once, weighed with the rest unless blind.
  const trial = useVerdict(
    {
      stage: question,
      readings: drafted ? [...(blind ? [] : committed), { ...drafted, id: "now" }] : [],
      situation,
      order: undefined,
      candidates,
    },
    drafted !== undefined,
  );
  const refused = drafted && !trial.asking ? trial.refused : undefined;
  const live = drafted && !refused && !blind && trial.last?.findings.some((f) => f.reading_id === "now");
  const verdict = live ? trial.last : base.last;
  const summary = drafted && !refused ? trial.last?.findings.find((f) => f.reading_id === "now")?.summary : undefined;

  const findings = useMemo(() => new Map((verdict?.findings ?? []).map((f) => [f.reading_id, f])), [verdict]);
  const names = useMemo(() => {
    const out = new Map<string, string>();
    for (const [i, r] of readings.entries()) out.set(r.key, `${i + 1} ${methods[r.reading.method].name}`);
    out.set("now", "this one");
    return out;
  }, [readings]);

  return {
    standing,
    blind,
    drafted,
    notNumbers: understood.notNumbers,
    missing: understood.missing,
    base,
    refused,
    verdict,
    summary,
    findings,
    names,
  };
}
