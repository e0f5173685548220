import { IconAdjustments } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "setup",
  title: "Set up",
  offer: "set up a ring and pinion",
  loose: {
    path: "/set-up",
    page: page(
      () => import("./SetupPage"),
      (m) => m.LooseSetupPage,
    ),
    key: "x",
    keyWords: "set up a ring and pinion",
  },
  unit: {
    path: "set-up",
    door: "Set up",
    icon: IconAdjustments,
    page: page(
      () => import("./SetupPage"),
      (m) => m.UnitSetupPage,
    ),
    has: (u) => u.stages.some((s) => s.present && ["ring_and_pinion", "two_stage"].includes(s.question.kind)),
  },
  keys: [],
  records: { setup: "◈", fits: "◇" },
};
