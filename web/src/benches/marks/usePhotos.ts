import { useQuery } from "@tanstack/react-query";
import { api, type NewPhoto, type Photo, type PhotoOf, take } from "../../api/client";
import { key } from "../../api/keys";
import { submit, useWaiting } from "../../app/outbox";

/** A unit's photos, newest first, and how many of them wait on this device. */
export function usePhotos(unit: number, enabled = true) {
  const photos = useQuery({
    queryKey: key.photos(unit),
    queryFn: () => take(api.GET("/units/{id}/photos", { params: { path: { id: unit } } })),
    enabled,
  });
  const waiting = useWaiting().flatMap((w) => (w.post.to === "photo" && w.post.unit === unit ? [w.post.photo] : []));
  return { photos, waiting };
}

/** Whether two say the same of what a photo is the evidence of. */
export const sameOf = (a: PhotoOf | undefined, b: PhotoOf) =>
  a !== undefined && a.reading === b.reading && a.work === b.work && a.run === b.run && a.step === b.step;

/** What FileReader makes of a file, without its head. */
const base64 = (file: File) =>
  new Promise<string>((done, failed) => {
    const r = new FileReader();
    r.onload = () => done(String(r.result).replace(/^[^,]*,/, ""));
    r.onerror = () => failed(new Error("The file can't be read."));
    r.readAsDataURL(file);
  });

/** Sends a photo; where the server can't be reached it waits on this device, and nothing is returned. */
export async function sendPhoto(unit: number, file: File, photo: Omit<NewPhoto, "image" | "key">) {
  const id = crypto.randomUUID();
  return submit<Photo>({
    key: id,
    says: photo.title || file.name,
    post: { to: "photo", unit, photo: { ...photo, key: id, image: await base64(file) } },
  });
}
