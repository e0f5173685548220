import type { MarkPoint, TeethOnPhoto } from "../../api/client";
import { OnDevice } from "../../api/onDevice";

/** Points of the longer side of what is counted on: more would take longer and tell no more. */
const longest = 1600;

/** Counts the teeth of the gear on a picture, on this device; tap is the middle of the gear that is asked about. */
export async function countTeeth(src: string, tap: MarkPoint | undefined, signal: AbortSignal): Promise<TeethOnPhoto> {
  const img = new Image();
  img.src = src;
  await img.decode();
  const shrunk = Math.max(1, Math.max(img.naturalWidth, img.naturalHeight) / longest);
  const width = Math.round(img.naturalWidth / shrunk);
  const height = Math.round(img.naturalHeight / shrunk);
  const canvas = document.createElement("canvas");
  canvas.width = width;
  canvas.height = height;
  const context = canvas.getContext("2d");
  if (!context) throw new Error("This browser can't look at pictures. Try a newer one.");
  context.drawImage(img, 0, 0, width, height);
  const rgba = context.getImageData(0, 0, width, height).data.buffer;
  const core = new OnDevice();
  const stop = () => core.end();
  signal.addEventListener("abort", stop);
  try {
    return await core.ask<TeethOnPhoto>({ what: "count", rgba, width, height, at: { shrunk, tap } }, [rgba]);
  } finally {
    signal.removeEventListener("abort", stop);
    core.end();
  }
}
