import type { Part } from "../../api/client";
import type { At, Pen } from "../plan";

/** What a kind of part is called, has and looks like: a file each, and a line in parts. */
export type Kind = {
  /** What it is called before it has a name. */
  words: string;
  /** Its outputs, one without a name if left out. */
  ports?: (p: Part) => string[];
  /** The ratios that it has, as its sources name them; none if left out. */
  ratios?: (p: Part) => string[];
  /** What a new one starts with. */
  start?: Partial<Part>;
  /** Draws it where its input shaft arrives, and what it feeds behind it. */
  draw: (pen: Pen, p: Part, at: At) => void;
};
