import { IconWheel } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "regear",
  title: "Tires and gears",
  group: "gears",
  offer: {
    ask: "Tires changed",
    gives: "which ring and pinion to re-gear with",
    picture: (
      <>
        <circle cx="30" cy="48" r="25" className="tire" />
        <circle cx="30" cy="48" r="12" className="metal" />
        <circle cx="84" cy="39" r="34" className="tire" />
        <circle cx="84" cy="39" r="16" className="metal" />
      </>
    ),
  },
  loose: {
    path: "/regear",
    page: page(
      () => import("./RegearPage"),
      (m) => m.LooseRegearPage,
    ),
    key: "r",
    keyWords: "tires changed: which ring and pinion?",
  },
  unit: {
    path: "regear",
    door: "Tires and gears",
    icon: IconWheel,
    page: page(
      () => import("./RegearPage"),
      (m) => m.UnitRegearPage,
    ),
    has: (u) => u.kind !== "boat",
  },
  keys: [],
  records: { regear: "✓" },
};
