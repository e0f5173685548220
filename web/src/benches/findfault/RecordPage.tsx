import { Button, Loader, Select, TextInput } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { blocking } from "../../api/blocking";
import { api, type FaultAnswer, type FaultRecordPage, take } from "../../api/client";
import { key } from "../../api/keys";
import { Band } from "../../app/Band";
import { useTitle } from "../../app/title";
import { chance, fixed, when } from "../../format/numbers";
import { SignInFirst } from "../../people/SignInFirst";
import { useDecide } from "../useDecide";
import classes from "./findfault.module.css";

/** How often the shop's verdicts were right, and those that a repair has still to prove. */
export function RecordPage() {
  useTitle("How often were we right?");
  const [proving, setProving] = useState<number>();
  const page = useQuery({ queryKey: key.faultRecord(), queryFn: () => take(api.GET("/faults")) });
  const stop = blocking(page);
  if (stop) return <SignInFirst error={stop} />;
  if (!page.data) return <Loader m="xl" />;
  const { record, open, repairs } = page.data;
  return (
    <>
      <Band className="no-print">
        <h1>How often were we right?</h1>
      </Band>
      <main id="main" className="page">
        <div className="decide-plate">
          <h2>{record.sentence}</h2>
        </div>
        {record.proved > 0 && <Figures record={record} />}
        {record.not_cured > 0 && (
          <p>
            {record.not_cured === 1 ? "One repair" : `${record.not_cured} repairs`} did not cure it: those searches go
            on.
          </p>
        )}
        <h2>Waiting for proof</h2>
        {open.length === 0 && <p className="dim">No verdict waits for its repair.</p>}
        <ul className={classes.entries}>
          {open.map((v) => (
            <li key={v.id}>
              <Entry entry={v} />
              {proving === v.id ? (
                <Prove id={v.id} unit={v.unit_id} onDone={() => setProving(undefined)} />
              ) : (
                <Button variant="default" size="compact-md" onClick={() => setProving(v.id)}>
                  What was it?
                </Button>
              )}
            </li>
          ))}
        </ul>
        <h2>Proved by repairs</h2>
        {repairs.length === 0 && <p className="dim">None yet.</p>}
        <ul className={classes.entries}>
          {repairs.map((v) => (
            <li key={v.id}>
              <Entry entry={v} />
            </li>
          ))}
        </ul>
      </main>
    </>
  );
}

type FaultEntry = { unit_id: number; unit: string; text: string; by: string; at: string };

function Entry({ entry: v }: { entry: FaultEntry }) {
  return (
    <div>
      <Link to={`/units/${v.unit_id}`}>{v.unit}</Link>: {v.text}
      <small className="dim">
        {v.by}, {when(v.at)}
      </small>
    </div>
  );
}

/** What was found when it was opened, and whether putting that right cured it. */
function Prove({ id, unit, onDone }: { id: number; unit: number; onDone: () => void }) {
  const [found, setFound] = useState<string | null>(null);
  const [other, setOther] = useState("");
  const decide = useDecide(unit);
  const verdict = useQuery({
    queryKey: key.decision(id),
    queryFn: () => take(api.GET("/decisions/{id}", { params: { path: { id } } })),
  });
  const answer = verdict.data?.answer as unknown as FaultAnswer | undefined;
  const keep = (cured: boolean) =>
    decide.mutate(
      { kind: "repair", repair: { verdict: id, found: found ?? undefined, other: found ? undefined : other, cured } },
      { onSuccess: onDone },
    );
  const named = Boolean(found || other.trim());
  return (
    <div className={classes.panel}>
      <Select
        label="Found"
        placeholder="which part was it?"
        searchable
        clearable
        value={found}
        onChange={setFound}
        data={(answer?.all ?? []).map((f) => ({ value: f.id, label: f.name }))}
      />
      {!found && (
        <TextInput
          label="or in words"
          value={other}
          onChange={(e) => setOther(e.currentTarget.value)}
          maxLength={200}
        />
      )}
      <div className="row">
        <Button disabled={!named} loading={decide.isPending} onClick={() => keep(true)}>
          Repaired, and the complaint is gone
        </Button>
        <Button variant="default" disabled={!named} loading={decide.isPending} onClick={() => keep(false)}>
          Repaired, and it still does it
        </Button>
      </div>
      {decide.error && <p className="trouble">{decide.error.message}</p>}
    </div>
  );
}

/** How sure the verdicts were against how often they were right, and what it was. */
function Figures({ record }: { record: FaultRecordPage["record"] }) {
  return (
    <div className={classes.record}>
      <table className="figures">
        <caption>How sure we were, and how often right</caption>
        <thead>
          <tr>
            <th scope="col">called sure</th>
            <th scope="col">on average</th>
            <th scope="col">right</th>
          </tr>
        </thead>
        <tbody>
          {record.bands
            .filter((b) => b.n > 0)
            .map((b) => (
              <tr key={b.from}>
                <th scope="row">
                  {fixed(100 * b.from, 0)} to {fixed(100 * b.to, 0)} %
                </th>
                <td>{chance(b.said)}</td>
                <td>
                  {Math.round(b.right * b.n)} of {b.n}
                </td>
              </tr>
            ))}
        </tbody>
      </table>
      <table className="figures">
        <caption>What it turned out to be</caption>
        <thead>
          <tr>
            <th scope="col">sort</th>
            <th scope="col">times</th>
            {record.others > 0 && <th scope="col">in other shops</th>}
            <th scope="col">weight, typical</th>
            <th scope="col">weight here</th>
          </tr>
        </thead>
        <tbody>
          {record.sorts.map((s) => (
            <tr key={s.sort}>
              <th scope="row">{s.sort.replaceAll("_", " ")}</th>
              <td>{s.n}</td>
              {record.others > 0 && <td>{s.others}</td>}
              <td>{fixed(s.typical, 1)}</td>
              <td>{fixed(s.here, 1)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
