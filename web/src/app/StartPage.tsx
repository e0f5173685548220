import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { Link } from "react-router";
import { api, type Kind, type Question, take } from "../api/client";
import { key } from "../api/keys";
import { type BenchReading, benchStore } from "../benches/identify/model";
import { benches } from "../benches/registry";
import { StageGlyph } from "../drawing/StageGlyph";
import { StateMark } from "../drawing/StateMark";
import { kindAsk, kindWords, questionWords } from "../format/words";
import { FirstVisitOffer } from "./FirstVisit";
import { kept, useKept } from "./local";
import { useSession } from "./session";
import { useTitle } from "./title";
import { UnitsAsked } from "./UnitsAsked";
import "./app.css";

/** The parts to count, the most usual first. */
const order: Kind[] = [
  "ring_and_pinion",
  "transfer_case",
  "gearbox",
  "two_stage",
  "gearcase",
  "hub",
  "planetary",
  "gear_pair",
  "chain_pair",
];

const noBenches: Question[] = [];
const noReadings: BenchReading[] = [];

const TodaysJobs = lazy(() => import("../benches/service/TodaysJobs").then((m) => ({ default: m.TodaysJobs })));

/** Every job of the trade, one tap away. */
export function StartPage() {
  useTitle("Start");
  const person = useSession().data?.person;
  return (
    <main id="main" className="start">
      {person && (
        <Suspense fallback={null}>
          <TodaysJobs me={person.name} />
        </Suspense>
      )}
      <UnitsAsked />
      <FirstVisitOffer />
      <div className="start-jobs">
        <Parts />
        <nav className="offers" aria-label="Jobs of the trade">
          {benches.map(
            (b) =>
              b.offer && (
                <Link key={b.id} to={b.loose.path}>
                  <svg viewBox="0 0 120 80" className="glyph" aria-hidden="true">
                    {b.offer.picture}
                  </svg>
                  <span>
                    <b>{b.offer.ask}</b>
                    <small>{b.offer.gives}</small>
                  </span>
                </Link>
              ),
          )}
        </nav>
      </div>
      <div className="start-more">
        <OnThisDevice />
        <LastWorkedOn signedIn={Boolean(person)} />
      </div>
    </main>
  );
}

/** What ratio is in it: the first question, and the parts that answer it. */
function Parts() {
  const [first, ...others] = order;
  return (
    <section className="parts" aria-labelledby="parts-ask">
      <h1 id="parts-ask">What gear ratio is in it?</h1>
      <p>Pick the part in front of you. You can name the vehicle later.</p>
      <div className="kinds">
        {first && (
          <Link to={`/count/${first}`} className="first">
            <StageGlyph kind={first} width={150} />
            <span>
              <b>{kindWords[first]}</b>
              <small>{kindAsk[first]}</small>
            </span>
          </Link>
        )}
        {others.map((k) => (
          <Link key={k} to={`/count/${k}`}>
            <StageGlyph kind={k} width={66} />
            <span>
              <b>{kindWords[k]}</b>
              <small>{kindAsk[k]}</small>
            </span>
          </Link>
        ))}
      </div>
    </section>
  );
}

/** Counts that were begun here and belong to no unit yet. */
function OnThisDevice() {
  const [begun] = useKept<Question[]>("zorvel.benches", noBenches);
  if (begun.length === 0) return null;
  return (
    <section>
      <h2>On this device</h2>
      <ul className="go-on">
        {begun.map((q) => {
          const n = kept(`${benchStore(q)}.readings`, noReadings).length;
          const search = new URLSearchParams();
          for (const k of ["position", "held", "input"] as const) if (q[k]) search.set(k, q[k]);
          return (
            <li key={benchStore(q)}>
              <Link to={`/count/${q.kind}?${search}`}>
                <StageGlyph kind={q.kind} width={54} />
                <span className="grow">
                  <b>{questionWords(q)}</b>
                  <small>{n === 1 ? "1 reading, not filed yet" : `${n} readings, not filed yet`}</small>
                </span>
              </Link>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

/** The units that somebody worked on last, with what is known of their ratios. */
function LastWorkedOn({ signedIn }: { signedIn: boolean }) {
  const units = useQuery({ queryKey: key.units(""), queryFn: () => take(api.GET("/units")), enabled: signedIn });
  return (
    <section>
      <h2>Last worked on</h2>
      {!signedIn && (
        <p className="dim">
          <Link to="/sign-in">Sign in</Link> to save readings with a unit and to see the shop's units. Counting needs no
          account.
        </p>
      )}
      {units.data?.length === 0 && (
        <p className="dim">
          No units yet. <Link to="/units">Add the first one</Link>, or count first and name it later.
        </p>
      )}
      <ul className="go-on">
        {(units.data ?? []).slice(0, 8).map((u) => (
          <li key={u.id}>
            <Link to={`/units/${u.id}`}>
              <span className="grow">
                <b>{u.name}</b>
                <span className="states">
                  {u.stages.slice(0, 5).map((s) => (
                    <span key={s.id} className={`pill state-${s.state}`} title={`${s.name}: ${s.state}`}>
                      {s.label?.label ?? s.about ?? "?"}
                    </span>
                  ))}
                </span>
              </span>
              {u.stages.some((s) => s.state === "conflict") && <StateMark state="conflict" />}
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
