import { IconArrowsLeftRight } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "freeplay",
  title: "Free play",
  offer: "find where the play sits",
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
