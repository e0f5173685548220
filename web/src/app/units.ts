import type { Units } from "../format/numbers";
import { useKept } from "./local";

/** What a choice of units is called. */
export const measures: Record<Units, string> = { metric: "mm · km/h", inch: "inch · mph" };

/** Where roads are signed in miles and shops measure in inches. */
const inchLocales = /-(US|LR|MM)\b/i;

/** As the browser's locale measures, until somebody says otherwise. */
const usual: Units = inchLocales.test(navigator.language) ? "inch" : "metric";

/** Units of measure as this person prefers. */
export const useUnits = () => useKept<Units>("zorvel.units", usual);
