import { Button, TextInput } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, Refused, reason, type SoundQuestion, take } from "../../api/client";
import { askAnew } from "../../api/keys";
import { useMaySave } from "../../app/session";
import classes from "./listen.module.css";

/** Saves what was named, with its sound, in the unit's record. */
export function SaveRecording({ unit, asked, id }: { unit: number; asked: SoundQuestion; id: string }) {
  const client = useQueryClient();
  const maySave = useMaySave();
  const [title, setTitle] = useState("");
  const save = useMutation({
    mutationFn: () =>
      take(
        api.POST("/units/{id}/recordings", {
          params: { path: { id: unit } },
          body: { key: id, title, question: asked },
        }),
      ),
    onSuccess: () => {
      void askAnew(client, "recordings", unit);
      notifications.show({ message: "Recording saved with the unit." });
    },
  });
  if (!maySave) return null;
  const refused = save.error instanceof Refused ? save.error : undefined;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    save.mutate();
  };
  return (
    <form className={classes.save} onSubmit={submit}>
      <TextInput
        label="Save the recording as"
        placeholder="Hums from sixty on"
        maxLength={400}
        value={title}
        disabled={save.isSuccess}
        onChange={(e) => setTitle(e.currentTarget.value)}
        error={refused?.within("/title") || (save.error ? reason(save.error) : undefined)}
      />
      <Button type="submit" variant="default" disabled={!title.trim() || save.isSuccess} loading={save.isPending}>
        {save.isSuccess ? "Saved" : "Save"}
      </Button>
    </form>
  );
}
