import type { QueryClient } from "@tanstack/react-query";

/** Names what was asked of the server: key.unit(7) is one unit, key.unit() all of them. */
const named =
  (name: string) =>
  (...about: unknown[]) => [name, ...about];

export const key = {
  card: named("card"),
  cardRun: named("cardRun"),
  cardRuns: named("cardRuns"),
  cards: named("cards"),
  catalog: named("catalog"),
  changeGears: named("changeGears"),
  changeGearsRun: named("changeGearsRun"),
  changes: named("changes"),
  complaints: named("complaints"),
  decision: named("decision"),
  decisions: named("decisions"),
  driveline: named("driveline"),
  echo: named("echo"),
  faultRecord: named("faultRecord"),
  faultSigns: named("faultSigns"),
  findFault: named("findFault"),
  firstBroken: named("firstBroken"),
  fits: named("fits"),
  freePlay: named("freePlay"),
  gearcase: named("gearcase"),
  history: named("history"),
  identify: named("identify"),
  import: named("import"),
  instruments: named("instruments"),
  job: named("job"),
  jobs: named("jobs"),
  knowledge: named("knowledge"),
  layouts: named("layouts"),
  parts: named("parts"),
  people: named("people"),
  photo: named("photo"),
  photos: named("photos"),
  programmer: named("programmer"),
  progress: named("progress"),
  propeller: named("propeller"),
  regear: named("regear"),
  service: named("service"),
  session: named("session"),
  setup: named("setup"),
  shiftMechanism: named("shiftMechanism"),
  shims: named("shims"),
  stamp: named("stamp"),
  shock: named("shock"),
  shopDue: named("shopDue"),
  looks: named("looks"),
  speedometer: named("speedometer"),
  stage: named("stage"),
  starter: named("starter"),
  tire: named("tire"),
  trace: named("trace"),
  traction: named("traction"),
  unit: named("unit"),
  toothMarks: named("toothMarks"),
  unitJobs: named("unitJobs"),
  units: named("units"),
};

/** Asks anew whatever was computed from the shop's lists. */
export function shopChanged(client: QueryClient) {
  for (const k of [
    key.identify,
    key.regear,
    key.changeGears,
    key.setup,
    key.speedometer,
    key.unit,
    key.units,
    key.stage,
    key.driveline,
  ])
    void client.invalidateQueries({ queryKey: k() });
}

/** Asks anew whatever shows a unit, after something of it changed. */
export function unitChanged(client: QueryClient, id: number) {
  for (const k of [key.unit, key.driveline, key.history]) void client.invalidateQueries({ queryKey: k(id) });
  void client.invalidateQueries({ queryKey: key.units() });
}
