import { Button, FileInput, Loader, NativeSelect, TextInput } from "@mantine/core";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useParams } from "react-router";
import { api, Refused, take } from "../../api/client";
import { askAnew, key } from "../../api/keys";
import { Band } from "../../app/Band";
import { useMaySave } from "../../app/session";
import { useTitle } from "../../app/title";
import { when } from "../../format/numbers";
import { partName } from "../../machine/document";
import { SignInFirst } from "../../people/SignInFirst";
import { useUnit } from "../useUnit";
import classes from "./marks.module.css";
import { sendPhoto, usePhotos } from "./usePhotos";

/** A unit's photos, and a new one. */
export function PhotosPage() {
  const id = Number(useParams().id);
  const { unit, line, error } = useUnit(id);
  const maySave = useMaySave();
  const { photos, waiting } = usePhotos(id);
  useTitle("Photos", unit?.name);
  if (error) return <SignInFirst error={error} />;
  if (!unit || !line || !photos.data) return <Loader m="xl" />;
  const name = (part: string) => {
    const p = line.document.parts.find((x) => x.id === part);
    return p ? partName(p) : "";
  };
  return (
    <>
      <Band>
        <h1>
          <Link to={`/units/${id}`}>{unit.name}</Link>
          <span> · photos</span>
        </h1>
      </Band>
      <main id="main" className="page wide">
        {maySave && <AddPhoto unit={id} />}
        {waiting.length > 0 && (
          <p role="status">
            {waiting.length === 1 ? "1 photo waits" : `${waiting.length} photos wait`} on this device:{" "}
            {waiting.map((p) => p.title || "without a title").join(", ")}.
          </p>
        )}
        {photos.data.length === 0 && <p className="dim">No photo yet.</p>}
        <div className={classes.grid}>
          {photos.data.map((p) => (
            <Link key={p.id} to={`/photos/${p.id}`} className={classes.tile}>
              <img src={`/api/v1/photos/${p.id}/picture?size=thumb`} alt={p.title || "photo"} loading="lazy" />
              <b>{[p.title, name(p.part)].filter(Boolean).join(", ") || "photo"}</b>
              <small>
                {p.points.length > 0 && `${p.points.length} marks · `}
                {p.by}, {when(p.at)}
              </small>
            </Link>
          ))}
        </div>
      </main>
    </>
  );
}

function AddPhoto({ unit }: { unit: number }) {
  const client = useQueryClient();
  const { line } = useUnit(unit);
  const [file, setFile] = useState<File | null>(null);
  const [title, setTitle] = useState("");
  const [part, setPart] = useState("");
  const jobs = useQuery({
    queryKey: key.unitJobs(unit),
    queryFn: () => take(api.GET("/units/{id}/jobs", { params: { path: { id: unit } } })),
  });
  const job = jobs.data?.find((j) => !j.closed_at);
  const add = useMutation({
    mutationFn: async () => {
      if (!file) throw new Error("Choose a photo first.");
      return sendPhoto(unit, file, { title, part: part || undefined, job: job?.id });
    },
    onSuccess: () => {
      setFile(null);
      setTitle("");
      askAnew(client, "photos", unit);
    },
  });
  const refused = add.error instanceof Refused ? add.error : undefined;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    add.mutate();
  };
  return (
    <form className={classes.add} onSubmit={submit}>
      <FileInput
        label="A photo"
        placeholder="choose or take one"
        accept="image/jpeg,image/png,image/webp"
        value={file}
        onChange={setFile}
        error={refused?.within("/image")}
      />
      <TextInput
        label="What it shows"
        maxLength={400}
        value={title}
        onChange={(e) => setTitle(e.currentTarget.value)}
      />
      <NativeSelect
        label="Of"
        data={[
          { value: "", label: "the whole unit" },
          ...(line?.document.parts ?? []).map((p) => ({ value: p.id, label: partName(p) })),
        ]}
        value={part}
        onChange={(e) => setPart(e.currentTarget.value)}
      />
      <Button type="submit" disabled={!file} loading={add.isPending}>
        Save photo
      </Button>
      {job && <small className="dim">It goes with the open job: {job.complaint}</small>}
      {add.error && !(refused && refused.faults.length > 0) && <p className="trouble">{add.error.message}</p>}
    </form>
  );
}
