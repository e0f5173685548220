import { Loader } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { api, take } from "../api/client";
import { key } from "../api/keys";
import { Band } from "../app/Band";
import { useMaySave } from "../app/session";
import { useTitle } from "../app/title";
import { useUnit } from "../benches/useUnit";
import { Signed } from "../format/Signed";
import { unitKindWords } from "../format/words";
import { UnitMachine } from "../machine/UnitMachine";
import { SignInFirst } from "../people/SignInFirst";
import { Archive, ArchivedNote } from "./Archive";
import { History } from "./History";
import { NextPanel } from "./NextPanel";
import { PartPanel } from "./PartPanel";
import { PrintedRatios } from "./PrintedRatios";
import { UnitDoors } from "./UnitDoors";
import { UnitForm } from "./UnitForm";
import classes from "./unit.module.css";

export function UnitPage() {
  const id = Number(useParams().id);
  const { unit: u, line, error } = useUnit(id);
  const maySave = useMaySave();
  const [query, setQuery] = useSearchParams();
  const navigate = useNavigate();
  useTitle(u?.name);
  if (error) return <SignInFirst error={error} />;
  if (!u || !line) return <Loader m="xl" />;
  const part = line.document.parts.find((p) => p.id === query.get("part"));
  const choose = (to: string | undefined) =>
    setQuery(
      (q) => {
        if (to) q.set("part", to);
        else q.delete("part");
        return q;
      },
      { replace: true },
    );
  return (
    <>
      <Band>
        <div className={classes.head}>
          <h1>
            {u.name} <span>· {unitKindWords[u.kind]}</span>
          </h1>
          <UnitDoors unit={u} />
        </div>
      </Band>
      <main id="main">
        <PrintedRatios unit={u} />
        <ArchivedNote unit={u} maySave={maySave} />
        <div className={classes.machine}>
          <UnitMachine
            doc={line.document}
            stages={u.stages}
            chosen={part?.id}
            onPart={(to) => {
              // A part that is chosen already opens, where it has one ratio.
              const there = u.stages.filter((s) => s.part === to && s.present);
              if (to === part?.id && there.length === 1) navigate(`/stages/${there[0]?.id}`);
              else choose(to);
            }}
          />
          <aside className={classes.side}>
            {part ? (
              <PartPanel
                key={part.id}
                unit={u}
                line={line}
                part={part}
                maySave={maySave}
                onClose={() => choose(undefined)}
              />
            ) : (
              <NextPanel unit={u} onPart={choose} />
            )}
          </aside>
        </div>
        <div className="page two-columns">
          <section>
            <Decisions unit={u.id} />
            <History unit={u.id} />
          </section>
          <div className="stack no-print">
            <UnitForm key={u.id} unit={u} maySave={maySave} />
            {maySave && !u.archived && <Archive unit={u} />}
          </div>
        </div>
      </main>
    </>
  );
}

/** What was decided, with its sheet where there is one. */
function Decisions({ unit }: { unit: number }) {
  const list = useQuery({
    queryKey: key.decisions(unit),
    queryFn: () => take(api.GET("/units/{id}/decisions", { params: { path: { id: unit } } })),
  });
  if (!list.data?.length) return null;
  return (
    <>
      <h2>Chosen</h2>
      <ul className="decisions">
        {list.data.slice(0, 6).map((d) => (
          <li key={d.id}>
            <b>{d.title}</b>
            {d.note && <p>{d.note}</p>}
            <small className="dim">
              <Signed by={d.by} at={d.at} takenIn={d.taken_in} />
              {d.sheet && (
                <>
                  {" · "}
                  <a href={`/api/v1/decisions/${d.id}/pdf`} target="_blank" rel="noreferrer">
                    Sheet (PDF)
                  </a>
                </>
              )}
              {" · "}
              <a href={`/api/v1/decisions/${d.id}`} download={`${d.title}.json`}>
                figures behind it (JSON)
              </a>
            </small>
          </li>
        ))}
      </ul>
    </>
  );
}
