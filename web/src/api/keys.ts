import type { QueryClient } from "@tanstack/react-query";

/** Names what was asked of the server: key.unit(7) is one unit, key.unit() all of them. */
const named =
  (name: string) =>
  (...about: unknown[]) => [name, ...about];

export const key = {
  audit: named("audit"),
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
  experience: named("experience"),
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
  phones: named("phones"),
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

/** What shows something, by what it is; about a unit, or another number, where it has one. */
const shown = {
  /** What was computed from the shop's lists. */
  shop: () => [
    key.identify(),
    key.regear(),
    key.changeGears(),
    key.setup(),
    key.speedometer(),
    key.unit(),
    key.units(),
    key.stage(),
    key.driveline(),
  ],
  list: () => [key.catalog(), key.changes()],
  parts: () => [key.parts()],
  people: () => [key.people()],
  filters: () => [key.units("filters")],
  units: () => [key.units()],
  unit: (id) => [key.unit(id), key.driveline(id), key.history(id), key.units()],
  driveline: (id) => [key.driveline(id)],
  ratios: () => [key.stage()],
  decisions: (id) => [key.decisions(id), key.history(id), key.faultRecord()],
  cards: () => [key.cards()],
  cardRun: (id) => [key.cardRun(id)],
  cardRuns: (id) => [key.cardRuns(id), key.decisions(id)],
  jobs: (id) => [key.jobs(), key.unitJobs(id), key.service(id)],
  due: () => [key.shopDue()],
  photo: (id) => [key.photo(id)],
  photos: (id) => [key.photos(id)],
  everything: () => [[]],
} satisfies Record<string, (id?: number) => unknown[][]>;

/** Asks anew whatever shows what has changed at the server. */
export const askAnew = (client: QueryClient, what: keyof typeof shown, id?: number) =>
  Promise.all(
    (shown[what] as (id?: number) => unknown[][])(id).map((queryKey) =>
      client.invalidateQueries({ queryKey: queryKey.filter((k) => k !== undefined) }),
    ),
  );
