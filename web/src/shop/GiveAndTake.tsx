import { Alert, Button, FileInput, Modal, TextInput } from "@mantine/core";
import { IconDownload } from "@tabler/icons-react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, reason, take } from "../api/client";
import { askAnew } from "../api/keys";
import { type ExperienceShop, holds } from "./experience";
import classes from "./files.module.css";

/** This shop's own, to give away. */
export function GiveExperience({ own }: { own: ExperienceShop }) {
  const [name, setName] = useState("");
  const empty = own.counted + own.proved + own.housings === 0;
  const query = name.trim() ? `?name=${encodeURIComponent(name.trim())}` : "";
  return (
    <section className={classes.section}>
      <h2>Export this shop's</h2>
      <p>This shop has: {holds(own)}.</p>
      {empty ? (
        <p>Count teeth, or close a fault with what was found, and there is something to export.</p>
      ) : (
        <div className={classes.send}>
          <TextInput
            label="Shop's name in the file"
            description="Optional. Leave it empty to export without a name."
            maxLength={60}
            w={280}
            value={name}
            onChange={(e) => setName(e.currentTarget.value)}
          />
          <Button
            component="a"
            href={`/api/v1/experience/file${query}`}
            download="experience.json"
            leftSection={<IconDownload size={18} />}
          >
            Export
          </Button>
        </div>
      )}
    </section>
  );
}

/** A file of another shop is checked before it counts. */
function useOffer() {
  const client = useQueryClient();
  const send = async (file: File, keep: boolean) => {
    let body: unknown;
    try {
      body = JSON.parse(await file.text());
    } catch {
      throw new Error("This is no experience file: choose the file that the other shop exported.");
    }
    return take(api.POST("/experience", { body: { file: body as never, keep } }));
  };
  const look = useMutation({ mutationFn: (file: File) => send(file, false) });
  const keep = useMutation({
    mutationFn: (file: File) => send(file, true),
    onSuccess: () => {
      look.reset();
      askAnew(client, "everything");
    },
  });
  return { look, keep };
}

/** Another shop's. */
export function TakeExperience() {
  const [file, setFile] = useState<File | null>(null);
  const { look, keep } = useOffer();
  const error = look.error ?? keep.error;
  const close = () => {
    setFile(null);
    look.reset();
  };
  return (
    <section className={classes.section}>
      <h2>Import another shop's</h2>
      <p>It is checked first. A newer file of the same shop replaces the older one.</p>
      <FileInput
        label="Another shop's experience"
        placeholder="experience.json"
        w={280}
        accept="application/json,.json"
        value={file}
        onChange={(f) => {
          setFile(f);
          keep.reset();
          look.reset();
          if (f) look.mutate(f);
        }}
      />
      {error && (
        <Alert color="red" title="Nothing imported" role="alert">
          {reason(error)}
        </Alert>
      )}
      {keep.data && (
        <Alert color="gray" title="Imported" role="status">
          {keep.data.shop.name}: {holds(keep.data.shop)}. It counts from now on.
        </Alert>
      )}
      {look.data && file && !keep.data && (
        <Modal opened onClose={close} title="Import this shop's experience?">
          <div className="stack">
            <p>
              {look.data.shop.name}: {holds(look.data.shop)}.
            </p>
            {look.data.instead && <p>It replaces the older file of this shop.</p>}
            <div className="row">
              <Button loading={keep.isPending} onClick={() => keep.mutate(file)}>
                Import
              </Button>
              <Button variant="default" data-autofocus onClick={close}>
                Cancel
              </Button>
            </div>
          </div>
        </Modal>
      )}
    </section>
  );
}
