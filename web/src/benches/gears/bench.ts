import { IconTable } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "gears",
  title: "Gears and ranges",
  loose: {
    path: "/gears",
    page: page(
      () => import("./GearsPage"),
      (m) => m.LooseGearsPage,
    ),
  },
  unit: {
    path: "gears",
    door: "Gears and ranges",
    icon: IconTable,
    page: page(
      () => import("./GearsPage"),
      (m) => m.UnitGearsPage,
    ),
    has: (u) => u.kind !== "boat",
  },
  keys: [],
  records: {},
};
