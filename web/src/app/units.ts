import type { Units } from "../format/numbers";
import { useKept } from "./local";

/** Units of measure as this person prefers. */
export const useUnits = () => useKept<Units>("zorvel.units", "metric");
