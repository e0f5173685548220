import { IconStack2 } from "@tabler/icons-react";
import { Gear } from "../../drawing/gear";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "changegear",
  title: "Change gears",
  group: "gears",
  help: {
    steps: [
      "Enter the base ratio and the gears installed.",
      "Read what the same two gears make when they are swapped.",
      "List the sets in the van, say what you are after, take the pick.",
      "Check Direction before you bolt the cover on.",
    ],
    caution: "Both gears of a set belong together. Turn it by hand before any power.",
    words: ["Change gears", "Numerically higher"],
    example: "Base 3.90 with 24 on the input and 21 on the pinion shaft: 3.41. Swapped: 4.46, shorter.",
  },
  offer: {
    ask: "Race gears",
    gives: "change gears for a track",
    picture: (
      <>
        <path d="M10 62h14M24 52h14M38 42h14" className="line" />
        <Gear x={70} y={42} r={15} n={14} hub={4} />
        <Gear x={98} y={34} r={17} n={18} hub={4} />
      </>
    ),
  },
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
  keys: [
    ["← →", "another rung of the ladder"],
    ["c", "count the gears that come out"],
  ],
  records: { event: "⚑" },
};
