import { IconTable } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "gears",
  title: "Gears and ranges",
  group: "ratios",
  help: {
    steps: [
      "Pick the layout, or open the unit.",
      "Read ratio, road speed and rpm of every gear in every range.",
      "Tap a gear to see it drawn.",
    ],
    caution: "Figures are without slip. A rolling tire is a percent or two off its marking.",
    words: ["Gear ratio", "Numerically higher"],
    example: "A truck with 2390 mm tires in a gear of 14.659 overall: 9.8 km/h at 1000 rpm.",
  },
  offer: {
    ask: "Speeds in the gears",
    gives: "road speed and rpm in every gear and range",
    picture: (
      <>
        <path d="M16 70V10M16 70H112" className="line" />
        <path d="M16 70L40 16V62L66 18V56L98 20" className="chalk" />
      </>
    ),
  },
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
