import type { Part, PartKind } from "../../api/client";
import { axle } from "./axle";
import { clutch } from "./clutch";
import { differential } from "./differential";
import { engine } from "./engine";
import { gearbox } from "./gearbox";
import { gearcase } from "./gearcase";
import { gearPair } from "./gearPair";
import { hub } from "./hub";
import type { Kind } from "./kind";
import { planetary } from "./planetary";
import { propeller } from "./propeller";
import { reverseGear } from "./reverseGear";
import { shaft } from "./shaft";
import { transferCase } from "./transferCase";
import { upper } from "./upper";
import { wheel } from "./wheel";

/** The kinds of part, in the order in which power passes them. */
export const kinds: Record<PartKind, Kind> = {
  engine,
  clutch,
  gearbox,
  planetary,
  transfer_case: transferCase,
  shaft,
  differential,
  gear_pair: gearPair,
  axle,
  hub,
  wheel,
  upper,
  reverse_gear: reverseGear,
  gearcase,
  propeller,
};

/** The outputs of a part; one without a name is written as "". */
export const ports = (p: Part): string[] => kinds[p.kind].ports?.(p) ?? [""];

/** The ratios that a part has, as its sources name them. */
export const ratioNames = (p: Part): string[] => kinds[p.kind].ratios?.(p) ?? [];
