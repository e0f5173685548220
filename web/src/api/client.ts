import createClient from "openapi-fetch";
import { person } from "../app/who";
import type { components, operations, paths } from "./schema";

type Schemas = components["schemas"];
export type JobFacts = Schemas["JobFacts"];
export type Session = Schemas["Session"];
export type Person = Schemas["Person"];
export type Role = Schemas["Role"];
export type Kind = Schemas["Kind"];
export type Method = Schemas["Method"];
export type Member = Schemas["Member"];
export type Question = Schemas["StageQuestion"];
export type Reading = Schemas["Reading"];
export type Shaft = Schemas["Shaft"];
export type Remainder = Schemas["Remainder"];
export type Verdict = Schemas["Verdict"];
export type Finding = Schemas["Finding"];
export type Candidate = Schemas["Candidate"];
export type Plan = Schemas["Plan"];
export type Option = Schemas["Option"];
export type Situation = Schemas["Situation"];
export type Order = Schemas["Order"];
export type Ratio = Schemas["Ratio"];
export type ReaderEye = Schemas["ReaderEye"];
export type OwnTask = Schemas["OwnTask"];
export type PracticeClass = Schemas["PracticeClass"];
export type PracticeQuestion = Schemas["PracticeQuestion"];
export type PracticeScene = Schemas["PracticeScene"];
export type PracticeAct = Schemas["PracticeAct"];
export type PracticeOffer = Schemas["PracticeOffer"];
export type PracticeRate = Schemas["PracticeRate"];
export type PracticeDone = Schemas["PracticeDone"];
export type PracticeMachine = Schemas["PracticeMachine"];
export type PracticeShaft = Schemas["PracticeShaft"];
export type PracticeGear = Schemas["PracticeGear"];
export type PracticeMesh = Schemas["PracticeMesh"];
export type PracticePiles = Schemas["PracticePiles"];
export type PracticeAsked = Schemas["PracticeAsked"];
export type PracticeReview = Schemas["PracticeReview"];
export type PracticeFinding = Schemas["PracticeFinding"];
export type PracticeResult = Schemas["PracticeResult"];
export type PracticeBoard = Schemas["PracticeBoard"];
export type PracticeSkill = Schemas["PracticeSkill"];
export type PracticeEye = Schemas["PracticeEye"];
export type DrillQuestion = Schemas["DrillQuestion"];
export type DrillAnswer = Schemas["DrillAnswer"];
export type DrillPicture = Schemas["DrillPicture"];
export type DrillMarked = Schemas["DrillMarked"];
export type DrillCard = Schemas["Card"];
export type State = Schemas["State"];
export type Unit = Schemas["Unit"];
export type UnitQuery = NonNullable<operations["listUnits"]["parameters"]["query"]>;
export type Phones = Schemas["Phones"];
export type ShopImport = Schemas["ShopImport"];
export type Experience = Schemas["Experience"];
export type PhotoOf = Schemas["PhotoOf"];
export type UnitCompared = Schemas["UnitCompared"];
export type RatioAt = Schemas["RatioAt"];
export type UnitKind = Schemas["UnitKind"];
export type StageSummary = Schemas["StageSummary"];
export type StageRecord = Schemas["StageRecord"];
export type KeptReading = Schemas["KeptReading"];
export type HistoryEntry = Schemas["HistoryEntry"];
export type Knowledge = Schemas["Knowledge"];
export type Echo = Schemas["Echo"];
export type Doc = Schemas["DrivelineDocument"];
export type Part = Schemas["DrivelinePart"];
export type PartKind = Schemas["PartKind"];
export type RatioSource = Schemas["RatioSource"];
export type DrivelineState = Schemas["DrivelineState"];
export type SavedState = Schemas["SavedState"];
export type Trace = Schemas["DrivelineTrace"];
export type TracedShaft = Schemas["TracedShaft"];
export type TracedMesh = Schemas["TracedMesh"];
export type TracedOutput = Schemas["TracedOutput"];
export type Selector = Schemas["Selector"];
export type HandTest = Schemas["HandTest"];
export type GearRow = Schemas["GearRow"];
export type ShiftRow = Schemas["ShiftRow"];
export type Exact = Schemas["Exact"];
export type Grip = Schemas["Grip"];
export type Traction = Schemas["Traction"];
export type Layout = Schemas["Layout"];
export type UnitDriveline = Schemas["UnitDriveline"];
export type ShopPart = Schemas["ShopPart"];
export type AxleMatch = Schemas["AxleMatch"];
export type FieldFault = Schemas["FieldFault"];
export type Tire = Schemas["Tire"];
export type TireAnswer = Schemas["TireAnswer"];
export type RegearRequest = Schemas["RegearRequest"];
export type RegearPlan = Schemas["RegearPlan"];
export type RegearVariant = Schemas["RegearVariant"];
export type RegearCandidate = Schemas["RegearCandidate"];
export type SpeedoMechanicalAnswer = Schemas["SpeedoMechanicalAnswer"];
export type SpeedoRequest = Schemas["SpeedoRequest"];
export type SpeedoAnswer = Schemas["SpeedoAnswer"];
export type SpeedoCell = Schemas["SpeedoCell"];
export type SpeedoVerified = Schemas["SpeedoVerified"];
export type SpeedoTrack = Schemas["SpeedoTrack"];
export type ChangeGearsRequest = Schemas["ChangeGearsRequest"];
export type ChangeGearsAnswer = Schemas["ChangeGearsAnswer"];
export type ChangeGearsRung = Schemas["ChangeGearsRung"];
export type ChangeGearsChoice = Schemas["ChangeGearsChoice"];
export type ChangeGearsRun = Schemas["ChangeGearsRun"];
export type ChangeGearsRunRequest = Schemas["ChangeGearsRunRequest"];
export type ChangeGearsEvent = Schemas["ChangeGearsEvent"];
export type GearcaseRequest = Schemas["GearcaseRequest"];
export type GearcaseAnswer = Schemas["GearcaseAnswer"];
export type GearcaseLook = Schemas["GearcaseLook"];
export type GearcaseGear = Schemas["GearcaseGear"];
export type GearcaseBacklash = Schemas["GearcaseBacklash"];
export type GearcaseVerdict = Schemas["GearcaseVerdict"];
export type PropRequest = Schemas["PropRequest"];
export type PropAnswer = Schemas["PropAnswer"];
export type Instruments = Schemas["Instruments"];
export type InstrumentsRecorded = Schemas["InstrumentsRecorded"];
export type LiveState = Schemas["LiveState"];
export type LiveAnswer = Schemas["LiveAnswer"];
export type LiveCount = Schemas["LiveShaftCount"];
export type LiveReading = Schemas["LiveReading"];
export type LiveRecording = Schemas["LiveRecording"];
export type LiveSetup = Schemas["LiveSetup"];
export type LiveShaft = Schemas["LiveShaft"];
export type LiveMotion = Schemas["LiveMotion"];
export type LiveTold = Schemas["LiveTold"];
export type DriveAnswer = Schemas["DriveAnswer"];
export type LiveAdvice = Schemas["LiveAdvice"];
export type Decision = Schemas["Decision"];
export type WorkCard = Schemas["WorkCard"];
export type WorkStep = Schemas["WorkStepState"];
export type WorkSheet = Schemas["WorkSheet"];
export type CardRun = Schemas["CardRun"];
export type NewCardEntry = Schemas["NewCardEntry"];
export type SetupQuestion = Schemas["SetupQuestion"];
export type SetupAnswer = Schemas["SetupAnswer"];
export type SetupAxle = Schemas["SetupAxle"];
export type SetupMade = Schemas["SetupMade"];
export type SetupSpot = Schemas["SetupSpot"];
export type StampHeard = Schemas["StampHeard"];
export type SetupKind = Schemas["SetupKind"];
export type SetupResult = Schemas["SetupResult"];
export type SetupVerdict = Schemas["SetupVerdict"];
export type SetupAround = Schemas["SetupAround"];
export type SetupFigure = Schemas["SetupFigure"];
export type FreePlay = Schemas["FreePlay"];
export type FreePlayAnswer = Schemas["FreePlayAnswer"];
export type FaultRecordPage = Schemas["FaultRecordPage"];
export type FaultAnswer = Schemas["FaultAnswer"];
export type Photo = Schemas["Photo"];
export type NewPhoto = Schemas["NewPhoto"];
export type MarkPoint = Schemas["MarkPoint"];
export type Recording = Schemas["Recording"];
export type SoundAnswer = Schemas["SoundAnswer"];
export type SoundDrive = Schemas["SoundDrive"];
export type SoundNamed = Schemas["SoundNamed"];
export type SoundQuestion = Schemas["SoundQuestion"];
export type SoundReading = Schemas["SoundReading"];
export type SoundVehicle = Schemas["SoundVehicle"];
export type TeethOnPhoto = Schemas["TeethOnPhoto"];
export type Job = Schemas["Job"];
export type JobSummary = Schemas["JobSummary"];
export type JobState = Schemas["JobState"];
export type Work = Schemas["Work"];
export type NewWork = Schemas["NewWork"];
export type ServicePage = Schemas["ServicePage"];
export type ServiceDue = Schemas["ServiceDue"];
export type ShockQuestion = Schemas["FaultShockQuestion"];
export type ShiftQuestion = Schemas["ShiftMechanism"];
export type FaultTest = Schemas["FaultTest"];
export type FaultSuspect = Schemas["FaultSuspect"];
export type FaultComplaint = Schemas["FaultComplaint"];
export type FaultSign = Schemas["FaultSign"];
export type FaultEvidence = Schemas["FaultEvidence"];
export type FaultGiven = Schemas["FaultGiven"];
export type FitsQuestion = Schemas["FitsQuestion"];
export type FitsAnswer = Schemas["FitsAnswer"];
export type NewDecision = Schemas["NewDecision"];
export type Calibration = Schemas["Calibration"];
export type CatalogName = Schemas["CatalogName"];
export type CatalogList = Schemas["CatalogList"];
export type CatalogColumn = Schemas["CatalogColumn"];
export type CatalogRow = Schemas["CatalogRow"];
export type CatalogPreview = Schemas["CatalogPreview"];

export const api = createClient<paths>({ baseUrl: "/api/v1" });

let here = false;
const watchers = new Set<() => void>();

/** Whether the last verdict was weighed on this device, as the server could not be reached. */
export const weighedHere = {
  get: () => here,
  watch: (f: () => void) => {
    watchers.add(f);
    return () => void watchers.delete(f);
  },
};

const strangers = new Set<() => void>();

/** Told when an answer was meant for another person than this page works for. */
export const personHere = {
  watch: (f: () => void) => {
    strangers.add(f);
    return () => void strangers.delete(f);
  },
};

/** Says on whose behalf something is sent; the server refuses what isn't theirs who is signed in. */
const personHeader = "Zorvel-Person";

/** The header for something that another person of this device entered. */
export const onBehalfOf = (id: number) => ({ [personHeader]: String(id) });

api.use({
  onRequest({ schemaPath, request }) {
    const keeps = request.method !== "GET" && !schemaPath.startsWith("/calc/") && schemaPath !== "/session";
    if (keeps && person.get() && !request.headers.has(personHeader))
      request.headers.set(personHeader, String(person.get()));
  },
  onResponse({ schemaPath, response }) {
    const of = response.headers.get(personHeader);
    const another = of !== null && of !== "0" && of !== String(person.get());
    if ((another || response.status === 401) && !schemaPath.startsWith("/session")) for (const f of strangers) f();
    if (schemaPath !== "/calc/identify") return;
    const now = response.headers.get("X-Weighed") === "here";
    if (now === here) return;
    here = now;
    for (const f of watchers) f();
  },
});

/** A refused request, with the fields at fault. */
export class Refused extends Error {
  readonly status: number;
  readonly faults: FieldFault[];
  /** It was sent on behalf of another person than the one who is signed in. */
  readonly someoneElses: boolean;
  constructor(status: number, message: string, faults: FieldFault[], someoneElses = false) {
    super(message);
    this.status = status;
    this.someoneElses = someoneElses;
    this.faults = faults;
  }
  /** The message for the first field whose pointer ends as given. */
  at(...ends: string[]): string | undefined {
    return this.faults.find((f) => ends.some((e) => f.field.endsWith(e)))?.message;
  }
  /** The message for just this field. */
  field(pointer: string): string | undefined {
    return this.faults.find((f) => f.field === pointer)?.message;
  }
  /** The first message for this field or anything within it. */
  within(pointer: string): string | undefined {
    return this.faults.find((f) => f.field === pointer || f.field.startsWith(`${pointer}/`))?.message;
  }
}

/** Why something was not done, with the place at fault, for where no field stands beside it. */
export function reason(e: unknown): string {
  const fault = e instanceof Refused ? e.faults[0] : undefined;
  if (fault?.field) return `${fault.field}: ${fault.message}`;
  return e instanceof Error ? e.message : String(e);
}

/** True when the server could not be reached: nothing was refused, so try again. */
export class Unreachable extends Error {
  constructor() {
    super("The server can't be reached. What you entered is saved on this device.");
  }
}

type Answer<T> = { data?: T; error?: Schemas["Problem"]; response: Response };

/** Unwraps an answer: data, or Refused, or Unreachable. */
export async function take<T>(request: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await request;
  } catch (e) {
    if (e instanceof DOMException && e.name === "AbortError") throw e;
    throw new Unreachable();
  }
  if (answer.error !== undefined || !answer.response.ok) {
    const p = answer.error;
    throw new Refused(
      answer.response.status,
      p?.detail || p?.title || `The server answered ${answer.response.status}.`,
      p?.errors ?? [],
      p?.type === "zorvel:someone-else",
    );
  }
  return answer.data as T;
}
