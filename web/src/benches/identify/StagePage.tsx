import { Alert, Loader } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { Link, useParams } from "react-router";
import { blocking } from "../../api/blocking";
import { api, type StageRecord, take } from "../../api/client";
import { askAnew, key } from "../../api/keys";
import { Band } from "../../app/Band";
import { enter, takeBack, useOwnWaiting } from "../../app/outbox";
import { useMaySave } from "../../app/session";
import { useTitle } from "../../app/title";
import { Signed } from "../../format/Signed";
import { memberWords } from "../../format/words";
import { WhereToMark } from "../../machine/WhereToMark";
import { YouAreHere } from "../../machine/YouAreHere";
import { SignInFirst } from "../../people/SignInFirst";
import { Evidence } from "../marks/Evidence";
import { useUnit } from "../useUnit";
import { Bench } from "./Bench";
import { methods } from "./methods";
import type { BenchReading } from "./model";

/** A reading in a few words, before the server has said what it understood. */
function what({ reading: r }: BenchReading) {
  const counts = r.teeth ? Object.entries(r.teeth).map(([m, n]) => `${memberWords[m] ?? m} ${n}`) : [];
  return [methods[r.method].name, r.text && `"${r.text}"`, ...counts].filter(Boolean).join(" ");
}

/** The bench of a stage in a unit's line: readings are kept with the unit. */
export function StagePage() {
  const id = Number(useParams().id);
  const record = useQuery({
    queryKey: key.stage(id),
    queryFn: () => take(api.GET("/stages/{id}", { params: { path: { id } } })),
  });
  const stop = blocking(record);
  if (stop) return <SignInFirst error={stop} />;
  if (!record.data) return <Loader m="xl" />;
  return <Filed key={id} record={record.data} />;
}

function Filed({ record }: { record: StageRecord }) {
  const client = useQueryClient();
  const maySave = useMaySave();
  const store = `zorvel.stage.${record.id}`;
  const { unit, line } = useUnit(record.unit_id);
  useTitle(record.name, record.unit_name);
  const { waiting, readings } = useReadings(record);
  const unsent = waiting.filter((r) => !r.refused);
  const keepReading = (r: BenchReading) =>
    enter({
      key: r.key,
      says: `${what(r)}, ${record.name} of ${record.unit_name}`,
      post: {
        to: "reading",
        stage: record.id,
        // What was counted stays with what was fitted when it was counted.
        since: record.since,
        reading: { reading: r.reading, note: r.note, blind: r.blind, key: r.key },
      },
    });

  const strike = async (r: BenchReading, reason: string) => {
    if (r.id === undefined) {
      await takeBack(r.key);
      return;
    }
    try {
      const after = await take(api.POST("/readings/{id}/strike", { params: { path: { id: r.id } }, body: { reason } }));
      client.setQueryData(key.stage(after.id), after);
      askAnew(client, "unit", after.unit_id);
    } catch (e) {
      notifications.show({ color: "red", title: "Not voided", message: (e as Error).message });
    }
  };

  return (
    <>
      <Band>
        <h1>
          <Link to={`/units/${record.unit_id}`}>{record.unit_name}</Link>
          <span> · {record.name}</span>
        </h1>
        {unit && line && <YouAreHere unit={unit} line={line} part={record.part} />}
      </Band>
      <Notices record={record} unsent={unsent.length} />
      <Bench
        store={store}
        question={record.question}
        readings={readings}
        mayWrite={maySave}
        maySave={maySave}
        where={line && <WhereToMark doc={line.document} part={record.part} />}
        onKeep={(r) => void keepReading(r)}
        onStrike={strike}
        evidence={(r) =>
          r.id !== undefined && (
            <Evidence
              unit={record.unit_id}
              of={{ reading: r.id }}
              title={`${record.name}: ${r.summary ?? "a reading"}`}
              part={record.present ? record.part : undefined}
              may={!r.struck && !r.former}
            />
          )
        }
      />
    </>
  );
}

/** The readings of a ratio: those on the server, and after them those that wait on this device. */
function useReadings(record: StageRecord) {
  const box = useOwnWaiting();
  const waiting = useMemo<BenchReading[]>(
    () =>
      box.flatMap((w) => {
        if (w.post.to !== "reading" || w.post.stage !== record.id) return [];
        const { reading, note, blind } = w.post.reading;
        return [
          { key: w.key, reading, note, blind, at: w.at, since: w.post.since, summary: w.says, refused: w.refused },
        ];
      }),
    [box, record.id],
  );
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

  return { waiting, readings };
}

/** What is to be known before the readings are looked at: the part is gone, another was fitted, some wait. */
function Notices({ record, unsent }: { record: StageRecord; unsent: number }) {
  return (
    <>
      {!record.present && (
        <Alert color="gray" className="waiting">
          This part is no longer in the driveline. Its readings stay here.
        </Alert>
      )}
      {record.fitted && (
        <Alert color="gray" className="waiting">
          {record.fitted.what === "gears_swapped" ? "Gears swapped in this housing" : "Another part was fitted here"}
          {record.fitted.note && `: ${record.fitted.note}`}. Readings from before no longer count.{" "}
          <small>
            <Signed by={record.fitted.by} at={record.fitted.at} takenIn={record.fitted.taken_in} />
          </small>
        </Alert>
      )}
      {unsent > 0 && (
        <Alert color="brass" className="waiting" role="status">
          {unsent === 1 ? "1 reading waits" : `${unsent} readings wait`} on this device until the server has
          {unsent === 1 ? " it" : " them"}.
        </Alert>
      )}
    </>
  );
}
