import { useEffect, useRef, useState } from "react";
import type { SoundAnswer, SoundNamed } from "../../api/client";
import type { Sound } from "./model";

/** Plays a recording, plain or with one source's tone raised: a narrow filter that follows the speed. */
export function usePlay(sound: Sound, a: SoundAnswer, rolling: number) {
  const [playing, setPlaying] = useState<string>();
  const stop = useRef<() => void>(undefined);
  useEffect(() => () => stop.current?.(), []);
  const play = (what: string, source?: SoundNamed) => {
    stop.current?.();
    const context = new AudioContext();
    const buffer = context.createBuffer(1, sound.samples.length, sound.rate);
    buffer.copyToChannel(sound.samples, 0);
    const tape = context.createBufferSource();
    tape.buffer = buffer;
    let last: AudioNode = tape;
    if (source) {
      for (let k = 0; k < 2; k++) {
        const filter = context.createBiquadFilter();
        filter.type = "bandpass";
        filter.Q.value = 9;
        if (source.kind === "fixed_tone") filter.frequency.value = source.hz;
        a.map.seconds.forEach((s, i) => {
          if (source.kind === "fixed_tone") return;
          const hz = ((source.per_wheel_turn ?? 0) * a.scale * (a.map.kmh[i] ?? 0)) / 3.6 / rolling;
          if (hz > 1) filter.frequency.linearRampToValueAtTime(hz, context.currentTime + s);
        });
        last.connect(filter);
        last = filter;
      }
      const louder = context.createGain();
      louder.gain.value = 4;
      last.connect(louder);
      last = louder;
    }
    last.connect(context.destination);
    const end = () => {
      stop.current = undefined;
      setPlaying(undefined);
      void context.close();
    };
    tape.onended = end;
    stop.current = () => {
      tape.onended = null;
      tape.stop();
      end();
    };
    tape.start();
    setPlaying(what);
  };
  return { playing, play, stop: () => stop.current?.() };
}
