import type { Icon } from "@tabler/icons-react";
import { type ComponentType, type LazyExoticComponent, lazy, type ReactNode } from "react";
import type { HistoryEntry, Unit } from "../api/client";

type Page = LazyExoticComponent<ComponentType>;

/** The groups of the bar on top, as the trade thinks. */
export const groups = { jobs: "Jobs", ratios: "Ratios", gears: "Tires and gears", repair: "Repair", learn: "Practice" };
export type Group = keyof typeof groups;

/**
 * What the rest of the application knows of a bench. Routes, navigation, shortcuts, the list of keys, the doors on a
 * unit and the marks of its records follow from this; a new bench exports one and stands in the list below.
 */
export type Bench = {
  id: string;
  title: string;
  /** Its card on the first page: the owner's words, what it gives, and a picture on a field of 120 by 80. */
  offer?: { ask: string; gives: string; picture: ReactNode };
  /** How it is done, for whoever asks on the bench. */
  help: {
    steps: string[];
    /** Where the trade does it in more than one way. */
    schools?: string;
    caution: string;
    /** Words of the trade that are used on it, as the glossary has them. */
    words: string[];
    /** Worked through with figures. */
    example: string;
  };
  /** Where it is found in the bar on top. */
  group: Group;
  /** The page without a unit: its path, what it shows, and the key that leads there. */
  loose: { path: string; page: Page; key?: string; keyWords?: string };
  /** The page of a unit, if there is one: the end of its path, what its door says, and which units have it. */
  unit?: { path: string; door: string; icon: Icon; page: Page; has: (u: Unit) => boolean };
  /** Other pages: of a part of a unit, for example. */
  pages?: { path: string; page: Page }[];
  /** Stands on top of every page: a way back, for example. */
  over?: Page;
  /** What keys do on it, for the list of keys. */
  keys: [key: string, what: string][];
  /** The kinds of record that it makes, each with its mark in a unit's history. */
  records: Partial<Record<HistoryEntry["what"], string>>;
};

/** A page that is loaded when it is opened. */
export const page = <M>(load: () => Promise<M>, pick: (m: M) => ComponentType): Page =>
  lazy(() => Promise.all([load(), import("../app/laterStyles")]).then(([m]) => ({ default: pick(m) })));
