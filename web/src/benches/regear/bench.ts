import { IconWheel } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "regear",
  title: "Tires and gears",
  offer: "choose gears for other tires",
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
