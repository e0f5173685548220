import { IconStack2 } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "changegear",
  title: "Change gears",
  offer: "choose change gears for a track",
  loose: {
    path: "/change-gears",
    page: page(
      () => import("./ChangeGearPage"),
      (m) => m.LooseChangeGearPage,
    ),
    key: "q",
    keyWords: "which change gears for this track?",
  },
  unit: {
    path: "change-gears",
    door: "Change gears",
    icon: IconStack2,
    page: page(
      () => import("./ChangeGearPage"),
      (m) => m.UnitChangeGearPage,
    ),
    has: (u) => u.stages.some((s) => s.present && s.ratio === "change"),
  },
  aside: true,
  keys: [
    ["← →", "another rung of the ladder"],
    ["c", "count the gears that come out"],
  ],
  records: { event: "⚑" },
};
