import type { Part, PartKind } from "../../api/client";
import type { At, Pen } from "../plan";
import type { Field } from "./fields";

/** What a kind of part is called, has and looks like: a file each, which is its default. */
export type Kind = {
  kind: PartKind;
  /** What it is called before it has a name. */
  words: string;
  /** Its outputs, one without a name if left out. */
  ports?: (p: Part) => string[];
  /** The ratios that it has, as its sources name them; none if left out. */
  ratios?: (p: Part) => string[];
  /** What a new one starts with. */
  start?: Partial<Part>;
  /** What can be known of it. */
  fields?: Field[];
  /** Stages of its own that it may have, by the property that holds them. */
  stages?: [path: string, label: string][];
  /** Whether a ratio of it can be counted at the bench; no if left out. */
  measured?: (p: Part) => boolean;
  /** Its figures in a list of parts. */
  summary?: (p: Part) => string;
  /** Power enters here. */
  source?: boolean;
  /** A driveline ends in it. */
  end?: boolean;
  /** Nothing of it is opened: it has no page of its own. */
  plain?: boolean;
  /** It may be turned over or end for end. */
  mounts?: boolean;
  /** Something moves its range, lock or gears. */
  actuated?: boolean;
  /** Its gears are named by a family. */
  family?: boolean;
  /** It has a greatest torque at its input. */
  rated?: boolean;
  /** Draws it where its input shaft arrives, and what it feeds behind it. */
  draw: (pen: Pen, p: Part, at: At) => void;
};
