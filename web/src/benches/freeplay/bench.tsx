import { IconArrowsLeftRight } from "@tabler/icons-react";
import { Gear } from "../../drawing/gear";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "freeplay",
  title: "Free play",
  group: "repair",
  help: {
    steps: [
      "Chock the wheels, gearbox in neutral.",
      "Rock the shaft that is named and read the angle between the stops.",
      "Go on to the next shaft: the play between the two is in the parts between them.",
      "Compare with what is usual there.",
    ],
    caution: "Wheels on the ground and chocked. A shaft that is loose drops: tie it up.",
    words: ["Driveshaft", "Backlash"],
    example: "At the driveshaft of a part-time truck about 4.3° is usual (2.3 to 6.3°).",
  },
  offer: {
    ask: "Play in the driveline",
    gives: "rock a shaft by hand, find what is loose",
    picture: (
      <>
        <path d="M6 40H70" className="shaft" />
        <Gear x={84} y={40} r={24} n={18} hub={6} />
        <path d="M28 18a26 26 0 0 1 22 0M28 18l8-4M28 18l3 8M50 18l-8-4M50 18l-3 8" className="chalk" />
      </>
    ),
  },
  loose: {
    path: "/free-play",
    page: page(
      () => import("./FreePlayPage"),
      (m) => m.LooseFreePlayPage,
    ),
  },
  unit: {
    path: "free-play",
    door: "Free play",
    icon: IconArrowsLeftRight,
    page: page(
      () => import("./FreePlayPage"),
      (m) => m.UnitFreePlayPage,
    ),
    has: () => true,
  },
  keys: [],
  records: { free_play: "↔" },
};
