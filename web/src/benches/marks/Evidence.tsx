import { Button } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { IconCamera } from "@tabler/icons-react";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { type PhotoOf, reason } from "../../api/client";
import { useMaySave } from "../../app/session";
import classes from "./marks.module.css";
import { sameOf, sendPhoto, usePhotos } from "./usePhotos";

type Props = { unit: number; of: PhotoOf; title: string; part?: string; job?: number; may?: boolean };

/** Photos of what something was read from, found or left like, beside it; and a camera for another. */
export function Evidence({ unit, of, title, part, job, may = true }: Props) {
  const { photos, waiting } = usePhotos(unit);
  const maySave = useMaySave();
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const here = (photos.data ?? []).filter((p) => sameOf(p.of, of));
  const unsent = waiting.filter((p) => sameOf(p.of, of)).length;
  const add = async (file: File) => {
    setBusy(true);
    try {
      await sendPhoto(unit, file, { of, title: title.slice(0, 400), part, job });
    } catch (e) {
      notifications.show({ color: "red", title: "Not saved", message: reason(e), autoClose: 12_000 });
    } finally {
      setBusy(false);
    }
  };
  if (!here.length && !unsent && !(may && maySave)) return null;
  return (
    <span className={classes.evidence}>
      {here.map((p) => (
        <Link key={p.id} to={`/photos/${p.id}`} title={p.title}>
          <img src={`/api/v1/photos/${p.id}/picture?size=thumb`} alt={`Photo: ${p.title || title}`} loading="lazy" />
        </Link>
      ))}
      {unsent > 0 && <small role="status">{unsent === 1 ? "1 photo waits" : `${unsent} photos wait`}</small>}
      {may && maySave && (
        <>
          <input
            ref={input}
            type="file"
            accept="image/jpeg,image/png,image/webp"
            capture="environment"
            hidden
            aria-label={`Photo: ${title}`}
            onChange={(e) => {
              const file = e.currentTarget.files?.[0];
              e.currentTarget.value = "";
              if (file) void add(file);
            }}
          />
          <Button
            variant="subtle"
            size="compact-sm"
            loading={busy}
            leftSection={<IconCamera size={16} />}
            onClick={() => input.current?.click()}
          >
            {here.length ? "Another photo" : "Photo"}
          </Button>
        </>
      )}
    </span>
  );
}
