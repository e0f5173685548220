import type { LiveRecording } from "../api/client";

/** When a recording begins and ends, in seconds; both 0 where nothing came. */
export function span(r: LiveRecording): [number, number] {
  const all = r.sources.flatMap((s) => {
    const t = s.times ?? [];
    const m = s.motion ?? [];
    return [t[0], t.at(-1), m[0]?.at, m.at(-1)?.at].filter((x) => x !== undefined);
  });
  return all.length > 0 ? [Math.min(...all), Math.max(...all)] : [0, 0];
}

/** What of a recording had come by a time. */
export function until(r: LiveRecording, end: number): LiveRecording {
  return {
    ...r,
    sources: r.sources.map((s) => {
      const n = (s.times ?? []).filter((t) => t <= end).length;
      return {
        ...s,
        times: s.times?.slice(0, n),
        ways: s.ways?.slice(0, n),
        degrees: s.degrees?.slice(0, n),
        motion: s.motion?.filter((m) => m.at <= end),
      };
    }),
  };
}
