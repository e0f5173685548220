import type { Kind, Option, Question, State, UnitKind } from "../api/client";

export const kindWords: Record<Kind, string> = {
  ring_and_pinion: "Ring and pinion",
  transfer_case: "Transfer case",
  gearbox: "Gearbox gear",
  planetary: "Planetary set",
  two_stage: "Two-stage axle",
  hub: "Hub reduction",
  gearcase: "Gearcase",
  gear_pair: "Gear pair",
  chain_pair: "Chain pair",
};

export const kindAsk: Record<Kind, string> = {
  ring_and_pinion: "an axle, one set of gears",
  transfer_case: "high, low or front output",
  gearbox: "one gear of a gearbox",
  planetary: "sun, planets and ring",
  two_stage: "an axle with two sets in one housing",
  hub: "a reduction in the wheel hub",
  gearcase: "a boat's lower unit",
  gear_pair: "two plain gears",
  chain_pair: "two sprockets and a chain",
};

export const stateWords: Record<State, string> = {
  measured: "measured",
  assumed: "assumed",
  conflict: "in conflict",
  unknown: "unknown",
};

export const unitKindWords: Record<UnitKind, string> = {
  truck: "Truck",
  van: "Van",
  car: "Car",
  boat: "Boat",
  part: "Loose part",
  other: "Other",
};

const positionWords: Record<string, string> = { high: "high range", low: "low range", front: "front to rear" };

const ends: Record<string, string> = { one: "st", two: "nd", few: "rd", other: "th" };
const ordinals = new Intl.PluralRules("en", { type: "ordinal" });

/** A gear as it is called: 4th gear, reverse. */
export function gearWords(name: string): string {
  if (name === "R") return "reverse";
  return /^[1-9]\d*$/.test(name) ? `${name}${ends[ordinals.select(Number(name))]} gear` : `gear ${name}`;
}

export function questionWords(q: Question): string {
  if (q.kind === "gearbox") return `Gearbox ${gearWords(q.position ?? "?")}`;
  if (q.position) return `${kindWords[q.kind]} ${positionWords[q.position] ?? q.position}`;
  return kindWords[q.kind];
}

export const memberWords: Record<string, string> = {
  ring: "Ring gear",
  pinion: "Pinion",
  gear: "Forward gear",
  sun: "Sun gear",
  planet: "One planet gear",
  planets: "Number of planets",
  planet_ring: "Planetary ring gear",
  driven: "Driven gear",
  drive: "Drive gear",
  input: "Input gear",
  counter: "Countershaft gear",
  cluster: "Cluster gear",
  output: "Output gear",
};

/** The prepared settings that an option opens its method with. */
export const optionKey = (o: Option) => `${o.method}-${o.by ?? ""}-${o.output_turns ?? ""}`;
