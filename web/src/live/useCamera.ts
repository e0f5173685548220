import { type RefObject, useCallback, useEffect, useRef, useState } from "react";
import { Film, type FilmTold, jpegs, type Watch } from "./film";
import type { Other } from "./OtherWheel";

/** Widest picture that is looked at; larger ones are made smaller. */
const widest = 480;
/** How often what was seen is weighed, in ms. */
const tellEvery = 200;

export type Camera = {
  /** What the pictures come from: nothing yet, the camera, a film file. */
  source?: { kind: "camera" } | { kind: "video"; url: string } | { kind: "pictures"; list: Uint8Array[]; rate: number };
  size?: { width: number; height: number };
  running: boolean;
  told?: FilmTold;
  trouble?: string;
};

/** Pictures of the camera or of a film, followed while it runs. */
export function useCamera(video: RefObject<HTMLVideoElement | null>, canvas: RefObject<HTMLCanvasElement | null>) {
  const [state, setState] = useState<Camera>({ running: false });
  const film = useRef<Film | undefined>(undefined);
  const stop = useRef<() => void>(() => undefined);
  const put = useCallback((s: Partial<Camera>) => setState((old) => ({ ...old, ...s })), []);

  const openCamera = async () => {
    if (!navigator.mediaDevices?.getUserMedia) {
      put({ trouble: window.isSecureContext ? noCamera : insecure });
      return;
    }
    try {
      const stream = await navigator.mediaDevices.getUserMedia({
        video: { facingMode: "environment", width: { ideal: 1280 }, frameRate: { ideal: 60 } },
      });
      const v = video.current;
      if (!v) return;
      v.srcObject = stream;
      await v.play();
      put({ source: { kind: "camera" }, size: fit(v.videoWidth, v.videoHeight), trouble: undefined });
    } catch (e) {
      put({ trouble: e instanceof DOMException && e.name === "NotAllowedError" ? refused : noCamera });
    }
  };

  const openFile = async (f: File, rate: number) => {
    try {
      if (/\.mjpe?g$/i.test(f.name)) {
        const list = jpegs(new Uint8Array(await f.arrayBuffer()));
        if (list.length === 0) throw new Error("This file holds no JPEG pictures.");
        const first = await createImageBitmap(new Blob([list[0] as BlobPart], { type: "image/jpeg" }));
        const size = fit(first.width, first.height);
        paint(canvas.current, first, size);
        put({ source: { kind: "pictures", list, rate }, size, told: undefined, trouble: undefined });
        return;
      }
      const v = video.current;
      if (!v) return;
      const url = URL.createObjectURL(f);
      v.srcObject = null;
      v.src = url;
      await new Promise((done, failed) => {
        v.onloadeddata = done;
        v.onerror = () => failed(new Error("This browser can't show this film. Save it as MP4, WebM or MJPEG."));
      });
      put({
        source: { kind: "video", url },
        size: fit(v.videoWidth, v.videoHeight),
        told: undefined,
        trouble: undefined,
      });
    } catch (e) {
      put({ trouble: e instanceof Error ? e.message : String(e) });
    }
  };

  const run = async (watch: Watch[], other?: Other) => {
    const { source, size } = state;
    if (!source || !size) return;
    film.current ??= new Film();
    const f = film.current;
    const halt = { now: false };
    stop.current = () => {
      halt.now = true;
    };
    put({ running: true, told: undefined, trouble: undefined });
    try {
      await f.begin(size.width, size.height, watch);
      let last = 0;
      const weigh = async (now: number) => {
        if (now - last < tellEvery) return;
        last = now;
        put({ told: await f.tell(other) });
      };
      if (source.kind === "pictures") await eachPicture(source, size, canvas.current, f, halt, weigh);
      else await eachFrame(video.current, source.kind === "video", size, canvas.current, f, halt, weigh);
      put({ told: await f.tell(other) });
    } catch (e) {
      put({ trouble: e instanceof Error ? e.message : String(e) });
    } finally {
      put({ running: false });
    }
  };

  useEffect(
    () => () => {
      stop.current();
      film.current?.end();
      const stream = video.current?.srcObject as MediaStream | null | undefined;
      for (const t of stream?.getTracks() ?? []) t.stop();
    },
    [video],
  );
  return { ...state, openCamera, openFile, run, halt: () => stop.current() };
}

const insecure =
  "Cameras stay closed to pages without HTTPS. Open this shop's secure address (On phones), or use a film that was recorded.";
const noCamera = "No camera answers. Connect one, or use a film that was recorded.";
const refused = "The camera was refused. Allow it for this page in the browser's settings, then try again.";

function fit(width: number, height: number) {
  const k = Math.min(1, widest / Math.max(1, width));
  return { width: Math.max(1, Math.round(width * k)), height: Math.max(1, Math.round(height * k)) };
}

type Size = { width: number; height: number };
type Halt = { now: boolean };
type Weigh = (now: number) => Promise<void>;

/** Paints a picture and takes its pixels. */
function paint(canvas: HTMLCanvasElement | null, picture: CanvasImageSource, size: Size): ImageData | undefined {
  if (!canvas) return undefined;
  if (canvas.width !== size.width || canvas.height !== size.height) Object.assign(canvas, size);
  const c = canvas.getContext("2d", { willReadFrequently: true });
  c?.drawImage(picture, 0, 0, size.width, size.height);
  return c?.getImageData(0, 0, size.width, size.height);
}

async function eachPicture(
  source: { list: Uint8Array[]; rate: number },
  size: Size,
  canvas: HTMLCanvasElement | null,
  film: Film,
  halt: Halt,
  weigh: Weigh,
) {
  for (const [i, jpeg] of source.list.entries()) {
    if (halt.now) return;
    const bitmap = await createImageBitmap(new Blob([jpeg as BlobPart], { type: "image/jpeg" }));
    const pixels = paint(canvas, bitmap, size);
    bitmap.close();
    if (pixels) await film.see(pixels, i / source.rate);
    await weigh(performance.now());
  }
}

async function eachFrame(
  video: HTMLVideoElement | null,
  recorded: boolean,
  size: Size,
  canvas: HTMLCanvasElement | null,
  film: Film,
  halt: Halt,
  weigh: Weigh,
) {
  if (!video) return;
  if (recorded) {
    video.currentTime = 0;
    await video.play();
  }
  let before = -1;
  while (!halt.now && !video.ended) {
    const at = await frame(video);
    if (halt.now || at <= before) continue;
    before = at;
    const pixels = paint(canvas, video, size);
    if (pixels) await film.see(pixels, at);
    await weigh(performance.now());
  }
}

/** The next picture's time, in seconds; also where the film ends. */
function frame(v: HTMLVideoElement): Promise<number> {
  return new Promise((done) => {
    if (!("requestVideoFrameCallback" in v)) {
      requestAnimationFrame(() => done((v as HTMLVideoElement).currentTime));
      return;
    }
    const wait = setTimeout(() => done(-1), 500);
    v.requestVideoFrameCallback((_, m) => {
      clearTimeout(wait);
      done(m.mediaTime);
    });
  });
}
