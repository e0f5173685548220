import { useEffect, useRef, useState } from "react";
import type { SoundReading } from "../../api/client";
import { readSound, type Sound } from "./model";

const longest = 120; // seconds

/** Records with the microphone, and the speed by the device's own position, once a person starts it. */
export function useRecorder(done: (s: Sound) => void, failed: (words: string) => void) {
  const [seconds, setSeconds] = useState<number>();
  const [kmh, setKmh] = useState<number>();
  const stop = useRef<() => void>(undefined);
  useEffect(() => () => stop.current?.(), []);
  const start = async () => {
    if (!navigator.mediaDevices?.getUserMedia) {
      failed("This page can't use a microphone here. Open it by its secure address, or choose a recorded file.");
      return;
    }
    let stream: MediaStream;
    try {
      stream = await navigator.mediaDevices.getUserMedia({
        audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false },
      });
    } catch (e) {
      const none = e instanceof DOMException && e.name === "NotFoundError";
      failed(
        none
          ? "No microphone found. Plug one in, or choose a recorded file."
          : "The microphone is blocked. Allow it for this page in the browser, or choose a recorded file.",
      );
      return;
    }
    const speed: SoundReading[] = [];
    const from = performance.now();
    const at = () => (performance.now() - from) / 1000;
    const watch = navigator.geolocation?.watchPosition(
      (p) => {
        if (p.coords.speed === null || p.coords.speed < 0) return;
        const value = Math.round(p.coords.speed * 36) / 10;
        const s = Math.round(at() * 10) / 10;
        setKmh(value);
        if (s > (speed.at(-1)?.s ?? -1)) speed.push({ s, value });
      },
      () => setKmh(undefined),
      { enableHighAccuracy: true, maximumAge: 0 },
    );
    const parts: Blob[] = [];
    const recorder = new MediaRecorder(stream);
    recorder.ondataavailable = (e) => parts.push(e.data);
    const clock = setInterval(() => {
      setSeconds(Math.floor(at()));
      if (at() > longest) stop.current?.();
    }, 250);
    recorder.onstop = () => {
      clearInterval(clock);
      if (watch !== undefined) navigator.geolocation.clearWatch(watch);
      for (const t of stream.getTracks()) t.stop();
      setSeconds(undefined);
      readSound(new Blob(parts, { type: recorder.mimeType }), "recorded here").then(
        (s) => done({ ...s, speed: speed.length > 1 ? speed : undefined }),
        (e: Error) => failed(e.message),
      );
    };
    stop.current = () => {
      if (recorder.state !== "inactive") recorder.stop();
    };
    recorder.start();
    setSeconds(0);
  };
  return { seconds, kmh, start, stop: () => stop.current?.() };
}
