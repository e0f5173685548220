import { IconWheel } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "regear",
  title: "Tires and gears",
  group: "gears",
  help: {
    steps: [
      "Enter the tires before and now, as they are written on them.",
      "Enter the axle ratio now: what the needle reads and which ratio pulls as before follow at once.",
      "Add the gearbox to see rpm in every gear, and which gears to fit.",
      "Front and rear must match: the bench checks every pair.",
    ],
    schools:
      "One school restores the stock ratio, one holds cruise rpm in its range, one goes a step shorter for towing. All are shown, each with its pick.",
    caution: "Gears of one family don't fit the housing of another: check the carrier's range before you order.",
    words: ["Re-gear", "Numerically higher", "Numerically lower"],
    example: "235/75R15 to 31x10.50R15: at a true 60 the needle reads 55.9, and 4.00 would pull as 3.73 did.",
  },
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
