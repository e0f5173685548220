import { useQuery } from "@tanstack/react-query";
import { Fragment, lazy, Suspense } from "react";
import { Link } from "react-router";
import { api, type Kind, type Question, take } from "../api/client";
import { key } from "../api/keys";
import { type BenchReading, benchStore } from "../benches/identify/model";
import { benches } from "../benches/registry";
import { StageGlyph } from "../drawing/StageGlyph";
import { StateMark } from "../drawing/StateMark";
import { kindAsk, kindWords, questionWords } from "../format/words";
import { kept, useKept } from "./local";
import { useSession } from "./session";
import { useTitle } from "./title";
import "./app.css";

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

const offers = benches.filter((b) => b.offer);
const noBenches: Question[] = [];
const noReadings: BenchReading[] = [];

const TodaysJobs = lazy(() => import("../benches/service/TodaysJobs").then((m) => ({ default: m.TodaysJobs })));

export function StartPage() {
  useTitle("Begin");
  const session = useSession();
  const person = session.data?.person;
  const [benches] = useKept<Question[]>("zorvel.benches", noBenches);
  const units = useQuery({ queryKey: key.units(""), queryFn: () => take(api.GET("/units")), enabled: Boolean(person) });
  return (
    <main id="main" className="start">
      <section>
        {person && (
          <Suspense fallback={null}>
            <TodaysJobs me={person.name} />
          </Suspense>
        )}
        <h1>What do you want to know?</h1>
        <p>
          The ratio that is in there now. Pick what lies before you and begin; say later what it belongs to. Or{" "}
          {offers.map((b, i) => (
            <Fragment key={b.id}>
              {i > 0 && (i < offers.length - 1 ? ", " : ", or ")}
              <Link to={b.loose.path}>{b.offer}</Link>
            </Fragment>
          ))}
          .
        </p>
        <div className="kinds">
          {order.map((k, i) => (
            <Link key={k} to={`/count/${k}`} className={i === 0 ? "first" : ""}>
              <StageGlyph kind={k} width={i === 0 ? 230 : 108} />
              <span>
                <b>{kindWords[k]}</b>
                <small>{kindAsk[k]}</small>
              </span>
            </Link>
          ))}
        </div>
      </section>
      <aside>
        {benches.length > 0 && (
          <>
            <h2>On this device</h2>
            <ul className="go-on">
              {benches.map((q) => {
                const n = kept(`${benchStore(q)}.readings`, noReadings).length;
                const search = new URLSearchParams();
                for (const k of ["position", "held", "input"] as const) if (q[k]) search.set(k, q[k]);
                return (
                  <li key={benchStore(q)}>
                    <Link to={`/count/${q.kind}?${search}`}>
                      <StageGlyph kind={q.kind} width={54} />
                      <span className="grow">
                        <b>{questionWords(q)}</b>
                        <small>{n === 1 ? "1 reading, not filed" : `${n} readings, not filed`}</small>
                      </span>
                    </Link>
                  </li>
                );
              })}
            </ul>
          </>
        )}
        <h2>Last worked on</h2>
        {!person && (
          <p className="dim">
            <Link to="/sign-in">Sign in</Link> to keep readings with a unit and to see the shop's units. Counting needs
            no account.
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
      </aside>
    </main>
  );
}
