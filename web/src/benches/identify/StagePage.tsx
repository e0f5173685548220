import { Alert, Loader } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo } from "react";
import { Link, useParams } from "react-router";
import { api, Refused, type StageRecord, take } from "../../api/client";
import { key, unitChanged } from "../../api/keys";
import { useKept } from "../../app/local";
import { useMaySave } from "../../app/session";
import { useTitle } from "../../app/title";
import { Signed } from "../../format/Signed";
import { WhereToMark } from "../../machine/WhereToMark";
import { YouAreHere } from "../../machine/YouAreHere";
import { SignInFirst } from "../../people/SignInFirst";
import { useUnit } from "../useUnit";
import { Bench } from "./Bench";
import type { BenchReading } from "./model";
import "./identify.css";

const none: BenchReading[] = [];

/** The bench of a stage in a unit's line: readings are kept with the unit. */
export function StagePage() {
  const id = Number(useParams().id);
  const record = useQuery({
    queryKey: key.stage(id),
    queryFn: () => take(api.GET("/stages/{id}", { params: { path: { id } } })),
  });
  if (record.error) return <SignInFirst error={record.error} />;
  if (!record.data) return <Loader m="xl" />;
  return <Filed key={id} record={record.data} />;
}

function Filed({ record }: { record: StageRecord }) {
  const client = useQueryClient();
  const maySave = useMaySave();
  const store = `zorvel.stage.${record.id}`;
  const [waiting, setWaiting] = useKept<BenchReading[]>(`${store}.waiting`, none);
  const { unit, line } = useUnit(record.unit_id);
  useTitle(record.name, record.unit_name);
  const stored = useCallback(
    (r: StageRecord) => {
      client.setQueryData(key.stage(r.id), r);
      unitChanged(client, r.unit_id);
    },
    [client],
  );

  // Readings wait on this device until the server has them; the key makes
  // sending twice harmless.
  const unsent = waiting.filter((r) => !r.refused);
  const sendKey = unsent.map((r) => r.key).join();
  // biome-ignore lint/correctness/useExhaustiveDependencies: sendKey stands for unsent
  useEffect(() => {
    if (!sendKey || !maySave) return;
    let stopped = false;
    let timer: ReturnType<typeof setTimeout>;
    const send = async () => {
      try {
        for (const r of unsent) {
          const saved = await take(
            api.POST("/stages/{id}/readings", {
              params: { path: { id: record.id } },
              body: {
                // What was counted stays with what was fitted when it was counted.
                since: r.since ?? record.since,
                readings: [{ reading: r.reading, note: r.note, blind: r.blind, key: r.key }],
              },
            }),
          );
          stored(saved);
          setWaiting((w) => w.filter((x) => x.key !== r.key));
        }
      } catch (e) {
        if (e instanceof Refused && e.status < 500 && e.status !== 401) {
          setWaiting((w) => w.map((x) => (sendKey.startsWith(x.key) ? { ...x, refused: (e as Error).message } : x)));
        } else if (!stopped) timer = setTimeout(send, 4000);
      }
    };
    const now = () => {
      clearTimeout(timer);
      void send();
    };
    void send();
    window.addEventListener("online", now);
    return () => {
      stopped = true;
      clearTimeout(timer);
      window.removeEventListener("online", now);
    };
  }, [sendKey, maySave, record.id, stored, setWaiting]);

  const readings = useMemo<BenchReading[]>(
    () => [
      ...record.readings.map((k) => ({
        key: String(k.id),
        id: k.id,
        reading: k.reading,
        summary: k.summary,
        by: k.by,
        at: k.at,
        note: k.note,
        blind: k.blind,
        struck: k.struck,
        takenIn: k.taken_in,
        former: k.former,
      })),
      ...waiting,
    ],
    [record, waiting],
  );

  const strike = async (r: BenchReading, reason: string) => {
    if (r.id === undefined) {
      setWaiting((w) => w.filter((x) => x.key !== r.key));
      return;
    }
    try {
      stored(await take(api.POST("/readings/{id}/strike", { params: { path: { id: r.id } }, body: { reason } })));
    } catch (e) {
      notifications.show({ color: "red", title: "Not struck out", message: (e as Error).message });
    }
  };

  return (
    <>
      <div className="band">
        <h1>
          <Link to={`/units/${record.unit_id}`}>{record.unit_name}</Link>
          <span> · {record.name}</span>
        </h1>
        {unit && line && <YouAreHere unit={unit} line={line} part={record.part} />}
      </div>
      {!record.present && (
        <Alert color="gray" className="waiting">
          This part was taken out of the driveline. What was read of it stays here.
        </Alert>
      )}
      {record.fitted && (
        <Alert color="gray" className="waiting">
          {record.fitted.what === "gears_swapped"
            ? "Gears were swapped in this housing"
            : "Another part was fitted here"}
          {record.fitted.note && `: ${record.fitted.note}`}. Readings from before stand aside.{" "}
          <small>
            <Signed by={record.fitted.by} at={record.fitted.at} takenIn={record.fitted.taken_in} />
          </small>
        </Alert>
      )}
      {unsent.length > 0 && (
        <Alert color="brass" className="waiting" role="status">
          {unsent.length === 1 ? "1 reading waits" : `${unsent.length} readings wait`} on this device until the server
          has
          {unsent.length === 1 ? " it" : " them"}.
        </Alert>
      )}
      <Bench
        store={store}
        question={record.question}
        readings={readings}
        mayWrite={maySave}
        maySave={maySave}
        where={line && <WhereToMark doc={line.document} part={record.part} />}
        onKeep={(r) => setWaiting((w) => [...w, { ...r, since: record.since }])}
        onStrike={strike}
      />
    </>
  );
}
