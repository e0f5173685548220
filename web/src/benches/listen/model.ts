import type { SoundDrive, SoundQuestion, SoundReading, SoundVehicle } from "../../api/client";
import { fixed, fromKMH, fromMM, toKMH, toMM, typed, type Units } from "../../format/numbers";

/** What is typed of the vehicle that is heard. */
export type Form = {
  rolling: string;
  ring: string;
  pinion: string;
  ratio: string;
  cylinders: string;
  gear: "direct" | "neutral" | "ratio";
  gearRatio: string;
  gearPairs: string;
  caseRatio: string;
  casePairs: string;
  planet: string;
  pitches: string;
  bearing: string;
  outer: string;
  inner: string;
  constant: string;
};

export const blank: Form = {
  rolling: "",
  ring: "",
  pinion: "",
  ratio: "",
  cylinders: "",
  gear: "direct",
  gearRatio: "",
  gearPairs: "",
  caseRatio: "",
  casePairs: "",
  planet: "",
  pitches: "",
  bearing: "",
  outer: "",
  inner: "",
  constant: "",
};

/** Meshes as they are typed, driving gear first: "23/37 21/30". */
const pairs = (text: string) => {
  const list = [...text.matchAll(/(\d+)\s*[/:]\s*(\d+)/g)].map((m) => ({ drive: Number(m[1]), driven: Number(m[2]) }));
  return list.length > 0 ? list : undefined;
};

/** The vehicle that a form says. */
export function vehicleOf(f: Form, units: Units): SoundVehicle {
  const ring = typed(f.ring);
  const pinion = typed(f.pinion);
  const outer = typed(f.outer);
  const inner = typed(f.inner);
  return {
    rolling_m: toMM(typed(f.rolling) ?? 0, units) / 1000,
    axle: ring && pinion ? { drive: pinion, driven: ring } : undefined,
    axle_ratio: typed(f.ratio),
    cylinders: typed(f.cylinders),
    neutral: f.gear === "neutral" || undefined,
    gear_ratio: f.gear === "direct" ? 1 : f.gear === "ratio" ? typed(f.gearRatio) : undefined,
    gear_pairs: f.gear === "ratio" ? pairs(f.gearPairs) : undefined,
    case_ratio: typed(f.caseRatio),
    case_pairs: pairs(f.casePairs),
    case_planet: pairs(f.planet)?.[0],
    tread_pitches: typed(f.pitches),
    bearings: outer || inner ? [{ name: f.bearing || "this", outer: outer ?? 0, inner: inner ?? 0 }] : undefined,
  };
}

/** A length in meters as it is typed in millimeters or inches. */
export const rollingOf = (m: number, units: Units) => fixed(fromMM(m * 1000, units), units === "metric" ? 0 : 2);

/** What would be typed for a drive that was saved. */
export function formOf({ vehicle: v, constant_kmh }: SoundDrive, units: Units): Form {
  const text = (n?: number) => (n ? String(n) : "");
  const meshes = (list?: { drive: number; driven: number }[]) =>
    (list ?? []).map((p) => `${p.drive}/${p.driven}`).join(" ");
  const bearing = v.bearings?.[0];
  return {
    rolling: rollingOf(v.rolling_m, units),
    ring: text(v.axle?.driven),
    pinion: text(v.axle?.drive),
    ratio: text(v.axle_ratio),
    cylinders: text(v.cylinders),
    gear: v.neutral ? "neutral" : !v.gear_ratio || v.gear_ratio === 1 ? "direct" : "ratio",
    gearRatio: v.gear_ratio === 1 ? "" : text(v.gear_ratio),
    gearPairs: meshes(v.gear_pairs),
    caseRatio: text(v.case_ratio),
    casePairs: meshes(v.case_pairs),
    planet: meshes(v.case_planet && [v.case_planet]),
    pitches: text(v.tread_pitches),
    bearing: bearing?.name ?? "",
    outer: text(bearing?.outer),
    inner: text(bearing?.inner),
    constant: constant_kmh ? fixed(fromKMH(constant_kmh, units), 0) : "",
  };
}

/** What the server is asked: the sound, the speed in whatever form there is, and the vehicle. */
export function questionOf(s: Sound, form: Form, units: Units, csv?: string): SoundQuestion {
  const steady = typed(form.constant);
  return {
    sound: wavOf(s),
    vehicle: vehicleOf(form, units),
    speed: csv ? undefined : s.speed,
    rpm: csv ? undefined : s.rpm,
    speed_csv: csv,
    constant_kmh: steady ? toKMH(steady, units) : undefined,
  };
}

/** A recording as the bench keeps it: its samples at a rate that is enough, and where it can be played from. */
export type Sound = {
  name: string;
  samples: Float32Array<ArrayBuffer>;
  rate: number;
  speed?: SoundReading[];
  rpm?: SoundReading[];
};

/** Samples a second that are kept: gears sing below half of it. */
const rate = 8000;
const longest = 180;

/** Any sound the browser can read, as one channel of 8,000 samples a second. */
export async function readSound(blob: Blob, name: string): Promise<Sound> {
  if (blob.size > 150e6)
    throw new Error("This file is too long. Cut out the part in which it howls, three minutes at most.");
  const context = new AudioContext();
  try {
    const whole = await context.decodeAudioData(await blob.arrayBuffer()).catch(() => {
      throw new Error("The browser can't read this file. Use WAV, or what the phone's recorder writes.");
    });
    if (whole.duration > longest)
      throw new Error("This recording is too long. Cut out the part in which it howls, three minutes at most.");
    const offline = new OfflineAudioContext(1, Math.ceil(whole.duration * rate), rate);
    const source = offline.createBufferSource();
    source.buffer = whole;
    source.connect(offline.destination);
    source.start();
    const made = await offline.startRendering();
    return { name, samples: made.getChannelData(0), rate };
  } finally {
    void context.close();
  }
}

/** A WAV of 16 bits, in base64. */
export function wavOf({ samples, rate }: Sound): string {
  const bytes = new Uint8Array(44 + 2 * samples.length);
  const view = new DataView(bytes.buffer);
  const text = (at: number, s: string) => {
    for (let i = 0; i < s.length; i++) bytes[at + i] = s.charCodeAt(i);
  };
  text(0, "RIFF");
  view.setUint32(4, 36 + 2 * samples.length, true);
  text(8, "WAVEfmt ");
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, 1, true);
  view.setUint32(24, rate, true);
  view.setUint32(28, 2 * rate, true);
  view.setUint16(32, 2, true);
  view.setUint16(34, 16, true);
  text(36, "data");
  view.setUint32(40, 2 * samples.length, true);
  samples.forEach((v, i) => {
    view.setInt16(44 + 2 * i, Math.max(-1, Math.min(1, v)) * 32767, true);
  });
  let out = "";
  for (let i = 0; i < bytes.length; i += 0x8000) out += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(out);
}
