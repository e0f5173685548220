import type { LiveReading, ReaderEye } from "../../../api/client";

/** How far a shaft turned, as typed. */
export type DraftShaft = {
  whole: string;
  how: "eye" | "arc" | "words";
  fraction: number;
  short: boolean;
  arc: string;
  rim: string;
  rimIs: "circumference" | "diameter";
  words: string;
  /** The reader's own eye, where he wants it reckoned with. */
  eye?: ReaderEye;
};

export const blankShaft: DraftShaft = {
  whole: "",
  how: "eye",
  fraction: 0,
  short: false,
  arc: "",
  rim: "",
  rimIs: "circumference",
  words: "",
};

/** What has been typed so far, as typed; kept on this device until it is committed. */
export type Draft = {
  text: string;
  teeth: Record<string, string>;
  wheels: "both" | "one" | "each";
  wheelTurns: string;
  /** What is known of the other wheel: asked, never taken for granted. */
  other: "" | "seen" | "assumed";
  left: string;
  right: string;
  output: string;
  outputs: "single" | "joined" | "one_held";
  shaft: DraftShaft;
  rpm: string;
  speed: string;
  rolling: string;
  others: string[];
  converter: "clutch" | "locked" | "open";
  note: string;
  /** A live count as it stands, and the session that it comes from. */
  live?: LiveReading;
  liveSession?: { id: number; secret: string; source: "sensors" | "phones" };
};

export const blankDraft: Draft = {
  text: "",
  teeth: {},
  wheels: "both",
  wheelTurns: "1",
  other: "",
  left: "",
  right: "",
  output: "1",
  outputs: "single",
  shaft: blankShaft,
  rpm: "",
  speed: "",
  rolling: "",
  others: ["1", "1"],
  converter: "locked",
  note: "",
};
