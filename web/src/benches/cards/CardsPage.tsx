import { Button, Loader, Radio, Select } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { blocking } from "../../api/blocking";
import { api, take, type Unit, type UnitDriveline } from "../../api/client";
import { askAnew, key } from "../../api/keys";
import { Band } from "../../app/Band";
import { useMaySave } from "../../app/session";
import { useTitle } from "../../app/title";
import { minutes, when } from "../../format/numbers";
import { partName } from "../../machine/document";
import { kinds } from "../../machine/parts";
import { YouAreHere } from "../../machine/YouAreHere";
import { SignInFirst } from "../../people/SignInFirst";
import { useUnit } from "../useUnit";
import classes from "./cards.module.css";

export const useCards = () =>
  useQuery({ queryKey: key.cards(), queryFn: () => take(api.GET("/cards")), staleTime: 60_000 });

/** The shop's cards. */
export function CardsPage() {
  useTitle("Work cards");
  const cards = useCards();
  const stop = blocking(cards);
  if (stop) return <SignInFirst error={stop} />;
  if (!cards.data) return <Loader m="xl" />;
  return (
    <>
      <Band>
        <h1>Work cards</h1>
        <p>Each step with its tool, its figure and its caution. Start one on a unit, or change one to your own way.</p>
      </Band>
      <main id="main" className="page">
        <ul className={classes.list}>
          {cards.data.map((c) => (
            <li key={c.id}>
              <Link to={`/cards/${c.id}`}>{c.title}</Link>
              <small className="dim">
                {c.steps} steps, about {minutes(c.minutes)}
                {c.for.length > 0 && ` · ${c.for.map((k) => kinds[k as keyof typeof kinds]?.words ?? k).join(", ")}`}
                {c.version > 0 && ` · your version ${c.version}, ${c.by}`}
              </small>
            </li>
          ))}
        </ul>
      </main>
    </>
  );
}

/** The cards of a unit: what is being done, what was done, and a new one. */
export function UnitCardsPage() {
  const id = Number(useParams().id);
  const [params] = useSearchParams();
  const { unit, line, error } = useUnit(id);
  useTitle("Work cards", unit?.name);
  if (error) return <SignInFirst error={error} />;
  if (!unit || !line) return <Loader m="xl" />;
  return (
    <>
      <Band>
        <h1>
          <Link to={`/units/${id}`}>{unit.name}</Link>
          <span> · work cards</span>
        </h1>
        <YouAreHere unit={unit} line={line} part={params.get("part") ?? undefined} />
      </Band>
      <main id="main" className="page">
        <div className={classes.unit}>
          <Runs unit={unit} line={line} />
          <Begin unit={unit} line={line} card={params.get("card") ?? ""} part={params.get("part") ?? ""} />
        </div>
      </main>
    </>
  );
}

export const useRuns = (unit: number) =>
  useQuery({
    queryKey: key.cardRuns(unit),
    queryFn: () => take(api.GET("/units/{id}/card-runs", { params: { path: { id: unit } } })),
  });

function Runs({ unit, line }: { unit: Unit; line: UnitDriveline }) {
  const runs = useRuns(unit.id);
  const list = runs.data ?? [];
  const name = (part: string) => {
    const p = line.document.parts.find((x) => x.id === part);
    return p ? ` · ${partName(p).toLowerCase()}` : "";
  };
  const open = list.filter((r) => !r.closed_at);
  const closed = list.filter((r) => r.closed_at);
  return (
    <section aria-label="Cards on this unit">
      <h2>In progress</h2>
      {open.length === 0 && <p className="dim">No card is open on this unit.</p>}
      <ul className={classes.list}>
        {open.map((r) => (
          <li key={r.id}>
            <Link to={`/card-runs/${r.id}`}>{r.title}</Link>
            <small className="dim">
              started by {r.by}, {when(r.at)}
              {name(r.part)}
            </small>
          </li>
        ))}
      </ul>
      {closed.length > 0 && <h2>Done</h2>}
      <ul className={classes.list}>
        {closed.map((r) => (
          <li key={r.id}>
            <Link to={`/card-runs/${r.id}`}>{r.title}</Link>
            <small className="dim">
              closed by {r.closed_by}, {when(r.closed_at ?? r.at)}
              {name(r.part)}
            </small>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** A card that is begun: on which part, and what holds for this unit. */
function Begin({ unit, line, card: asked, part: at }: { unit: Unit; line: UnitDriveline; card: string; part: string }) {
  const maySave = useMaySave();
  const [id, setID] = useState(asked);
  const [answers, setAnswers] = useState<Record<string, boolean>>({});
  const [part, setPart] = useState(at);
  const doc = useQuery({
    queryKey: key.card(id),
    queryFn: () => take(api.GET("/cards/{card}", { params: { path: { card: id } } })),
    enabled: id !== "",
  });
  const card = doc.data?.card;
  const fits = line.document.parts.filter((p) => !card?.for || card.for.length === 0 || card.for.includes(p.kind));
  const on = fits.some((p) => p.id === part) ? part : card?.for?.length ? (fits[0]?.id ?? "") : part;
  const begin = useBegin(unit.id, id, on, answers);
  const conditions = card?.conditions ?? [];
  const unanswered = conditions.filter((c) => answers[c.id] === undefined);
  return (
    <section aria-label="Start a card" className="stack">
      <h2>Start a card</h2>
      <PickCard
        line={line}
        id={id}
        onPick={(v) => {
          setID(v);
          setAnswers({});
        }}
      />
      {card && (
        <>
          {fits.length > 0 && (
            <Select
              label="On"
              value={on || null}
              onChange={(v) => setPart(v ?? "")}
              data={fits.map((p) => ({ value: p.id, label: partName(p) }))}
              clearable={!card.for?.length}
              placeholder="the whole unit"
            />
          )}
          {conditions.map((c) => (
            <Radio.Group
              key={c.id}
              label={c.ask}
              value={answers[c.id] === undefined ? "" : answers[c.id] ? "yes" : "no"}
              onChange={(v) => setAnswers({ ...answers, [c.id]: v === "yes" })}
            >
              <div className="row">
                <Radio value="yes" label="Yes" />
                <Radio value="no" label="No" />
              </div>
            </Radio.Group>
          ))}
          <div className="row wrap">
            <Button
              disabled={!maySave || unanswered.length > 0}
              loading={begin.isPending}
              onClick={() => begin.mutate()}
            >
              Start: {card.title}
            </Button>
            {unanswered.length > 0 && (
              <span className="dim">Answer the questions: only the steps that apply are shown.</span>
            )}
            {begin.error && <span className="trouble">{begin.error.message}</span>}
          </div>
        </>
      )}
    </section>
  );
}

/** Starts a card on a unit and goes to it. */
function useBegin(unit: number, card: string, part: string, answers: Record<string, boolean>) {
  const client = useQueryClient();
  const navigate = useNavigate();
  return useMutation({
    mutationFn: () =>
      take(
        api.POST("/units/{id}/card-runs", {
          params: { path: { id: unit } },
          body: {
            card,
            part: part || undefined,
            answers: Object.entries(answers).map(([condition, yes]) => ({ condition, yes })),
          },
        }),
      ),
    onSuccess: (r) => {
      askAnew(client, "unit", unit);
      askAnew(client, "cardRuns", unit);
      client.setQueryData(key.cardRun(r.id), r);
      navigate(`/card-runs/${r.id}`);
    },
  });
}

/** The cards that fit what is in the unit, then the others. */
function PickCard({ line, id, onPick }: { line: UnitDriveline; id: string; onPick: (id: string) => void }) {
  const cards = useCards();
  const kindsHere = new Set(line.document.parts.map((p) => p.kind as string));
  return (
    <Select
      label="Card"
      placeholder="which job?"
      searchable
      value={id || null}
      onChange={(v) => onPick(v ?? "")}
      data={[
        {
          group: "For this unit",
          items: (cards.data ?? [])
            .filter((c) => c.for.length === 0 || c.for.some((k) => kindsHere.has(k)))
            .map((c) => ({ value: c.id, label: c.title })),
        },
        {
          group: "Others",
          items: (cards.data ?? [])
            .filter((c) => c.for.length > 0 && !c.for.some((k) => kindsHere.has(k)))
            .map((c) => ({ value: c.id, label: c.title })),
        },
      ]}
    />
  );
}
