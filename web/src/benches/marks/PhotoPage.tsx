import { Button, Loader, NativeSelect } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { blocking } from "../../api/blocking";
import { api, type MarkPoint, type Photo, Refused, take } from "../../api/client";
import { askAnew, key } from "../../api/keys";
import { Band } from "../../app/Band";
import { useMaySave } from "../../app/session";
import { useTitle } from "../../app/title";
import { when } from "../../format/numbers";
import { SignInFirst } from "../../people/SignInFirst";
import { useUnit } from "../useUnit";
import { Marker, useCount } from "./Marker";
import classes from "./marks.module.css";

/** A photo, large, with the teeth that were marked on it. */
export function PhotoPage() {
  const id = Number(useParams().id);
  const photo = useQuery({
    queryKey: key.photo(id),
    queryFn: () => take(api.GET("/photos/{id}", { params: { path: { id } } })),
  });
  const { unit } = useUnit(photo.data?.unit_id ?? 0);
  useTitle(photo.data?.title || "Photo", unit?.name);
  const stop = blocking(photo);
  if (stop) return <SignInFirst error={stop} />;
  if (!photo.data) return <Loader m="xl" />;
  const p = photo.data;
  return (
    <>
      <Band>
        <h1>
          <Link to={`/units/${p.unit_id}/photos`}>{unit?.name ?? "unit"}</Link>
          <span> · {p.title || "photo"}</span>
        </h1>
      </Band>
      <main id="main" className="page wide">
        <p>
          {p.shows && (
            <>
              <Link to={p.shows.page}>{p.shows.says}</Link>
              <br />
            </>
          )}
          <small className="dim">
            {p.by}, {when(p.at)}
          </small>
        </p>
        <Marks key={p.version} photo={p} />
      </main>
    </>
  );
}

function Marks({ photo: p }: { photo: Photo }) {
  const client = useQueryClient();
  const maySave = useMaySave();
  const [points, setPoints] = useState<MarkPoint[]>(p.points);
  const changed = JSON.stringify(points) !== JSON.stringify(p.points);
  const save = useMutation({
    mutationFn: () =>
      take(api.PUT("/photos/{id}", { params: { path: { id: p.id } }, body: { base: p.version, points } })),
    onSuccess: (x) => {
      client.setQueryData(key.photo(p.id), x);
      askAnew(client, "photos", p.unit_id);
      notifications.show({ message: "The marks are saved with the photo." });
    },
    onError: (e) => {
      if (e instanceof Refused && e.status === 409) askAnew(client, "photo", p.id);
    },
  });
  return (
    <>
      <Marker
        src={`/api/v1/photos/${p.id}/picture`}
        width={p.width}
        height={p.height}
        points={points}
        onPoints={maySave ? setPoints : undefined}
      />
      {maySave && (
        <div className={classes.below}>
          <Button disabled={!changed} loading={save.isPending} onClick={() => save.mutate()}>
            Save the marks
          </Button>
          {save.error && <span className="trouble">{save.error.message}</span>}
          <AsReading photo={p} points={points} saved={!changed} />
        </div>
      )}
    </>
  );
}

const withRing = ["ring_and_pinion", "two_stage"];

/** The count as a reading of one gear of a ratio, with the marked photo as its evidence. */
function AsReading({ photo, points, saved }: { photo: Photo; points: MarkPoint[]; saved: boolean }) {
  const { unit } = useUnit(photo.unit_id);
  const client = useQueryClient();
  const { answer } = useCount(points);
  const stages = (unit?.stages ?? []).filter((s) => s.present && withRing.includes(s.question.kind));
  const own = stages.find((s) => s.part === photo.part) ?? stages[0];
  const [stage, setStage] = useState("");
  const [gear, setGear] = useState("ring");
  const to = stage || String(own?.id ?? "");
  const keep = useMutation({
    mutationFn: async () => {
      const count = answer?.count ?? 0;
      const note = `Counted on photo ${photo.id}`;
      const record = await take(
        api.POST("/stages/{id}/readings", {
          params: { path: { id: Number(to) } },
          // One count of one gear on one photo is one reading, however often it is taken.
          body: {
            readings: [
              {
                reading: { method: "teeth", teeth: { [gear]: count } },
                note,
                key: `photo-${photo.id}-${count}-${gear}-${to}`,
              },
            ],
          },
        }),
      );
      const reading = record.readings.filter((r) => r.note === note && !r.struck).at(-1);
      if (!reading || photo.of) return;
      const kept = await take(
        api.PUT("/photos/{id}", {
          params: { path: { id: photo.id } },
          body: { base: photo.version, points, of: { reading: reading.id } },
        }),
      );
      client.setQueryData(key.photo(photo.id), kept);
      askAnew(client, "photos", photo.unit_id);
    },
    onSuccess: () => {
      askAnew(client, "unit", photo.unit_id);
      askAnew(client, "ratios");
      notifications.show({ message: `Saved: ${answer?.count} ${gear} teeth, counted on this photo.` });
    },
  });
  if (stages.length === 0 || !answer) return null;
  return (
    <>
      <NativeSelect
        aria-label="Ratio"
        data={stages.map((s) => ({ value: String(s.id), label: s.name }))}
        value={to}
        onChange={(e) => setStage(e.currentTarget.value)}
      />
      <NativeSelect
        aria-label="Gear"
        data={[
          { value: "ring", label: "ring gear" },
          { value: "pinion", label: "pinion" },
        ]}
        value={gear}
        onChange={(e) => setGear(e.currentTarget.value)}
      />
      <Button
        variant="default"
        disabled={!answer.even || !saved}
        loading={keep.isPending}
        onClick={() => keep.mutate()}
      >
        Take {answer.count} as a reading
      </Button>
      {!answer.even && <span className="dim">First look where the spacing points.</span>}
      {answer.even && !saved && <span className="dim">Save the marks first: they are its evidence.</span>}
      {keep.error && <span className="trouble">{keep.error.message}</span>}
    </>
  );
}
