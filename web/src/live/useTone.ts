import { useEffect, useRef } from "react";
import { useKept } from "../app/local";

/** Two rising notes when a count is settled, unless they are muted. */
export function useTone(settled: boolean): { muted: boolean; setMuted: (m: boolean) => void } {
  const [muted, setMuted] = useKept("zorvel.live.muted", false);
  const was = useRef(settled);
  useEffect(() => {
    if (settled && !was.current && !muted) chime();
    was.current = settled;
  }, [settled, muted]);
  return { muted, setMuted };
}

function chime() {
  if (!("AudioContext" in window)) return;
  const sound = new AudioContext();
  for (const [i, hertz] of [660, 880].entries()) {
    const note = sound.createOscillator();
    const loud = sound.createGain();
    const at = sound.currentTime + i * 0.16;
    note.frequency.value = hertz;
    loud.gain.setValueAtTime(0.0001, at);
    loud.gain.exponentialRampToValueAtTime(0.25, at + 0.02);
    loud.gain.exponentialRampToValueAtTime(0.0001, at + 0.3);
    note.connect(loud).connect(sound.destination);
    note.start(at);
    note.stop(at + 0.32);
  }
  setTimeout(() => void sound.close(), 1000);
}
