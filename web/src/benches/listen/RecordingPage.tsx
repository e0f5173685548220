import { Loader } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { blocking } from "../../api/blocking";
import { api, take } from "../../api/client";
import { key } from "../../api/keys";
import { useTitle } from "../../app/title";
import { useUnits } from "../../app/units";
import { when } from "../../format/numbers";
import { SignInFirst } from "../../people/SignInFirst";
import { useUnit } from "../useUnit";
import { ListenBench } from "./ListenBench";
import { formOf, readSound } from "./model";

/** A recording that was saved with its unit: played, named again, and taken further. */
export function RecordingPage() {
  const id = Number(useParams().id);
  const [units] = useUnits();
  const recording = useQuery({
    queryKey: key.recording(id),
    queryFn: async () => {
      const r = await take(api.GET("/recordings/{id}", { params: { path: { id } } }));
      const wav = await take(api.GET("/recordings/{id}/sound", { params: { path: { id } }, parseAs: "blob" }));
      const sound = await readSound(wav as unknown as Blob, r.title);
      return { r, sound: { ...sound, speed: r.drive?.speed, rpm: r.drive?.rpm } };
    },
    staleTime: Number.POSITIVE_INFINITY,
  });
  const { unit } = useUnit(recording.data?.r.unit_id ?? 0);
  useTitle(recording.data?.r.title ?? "Recording", unit?.name);
  const stop = blocking(recording);
  if (stop) return <SignInFirst error={stop} />;
  if (!recording.data || !unit) return <Loader m="xl" />;
  const { r, sound } = recording.data;
  return (
    <ListenBench
      store={`zorvel.listen.recording.${id}`}
      title={
        <>
          <Link to={`/units/${r.unit_id}/listen`}>{unit.name}</Link>
          <span> · {r.title}</span>
        </>
      }
      here={
        <p>
          <small className="dim">
            {r.by}, {when(r.at)}. Named then: {r.named}
          </small>
        </p>
      }
      known={r.drive && formOf(r.drive, units)}
      unit={unit}
      saved={sound}
    />
  );
}
