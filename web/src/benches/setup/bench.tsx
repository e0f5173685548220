import { IconAdjustments } from "@tabler/icons-react";
import { Gear } from "../../drawing/gear";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "setup",
  title: "Set up",
  group: "repair",
  help: {
    steps: [
      "Enter the teeth and the maker's backlash.",
      "Measure the backlash at three places or more, starting at the mark.",
      "Paint a few teeth, turn against a brake, tap where the pattern shows.",
      "Read which way and how far to move. With the shims typed in you get exact stacks.",
      "Assemble, measure again: each trial teaches the bench this housing.",
    ],
    schools: "Some set depth by gauge first, some by pattern. Where both are entered the pattern decides.",
    caution: "A carrier is heavy and its bearings are spread: hands out from between, lift it straight.",
    words: ["Pinion depth", "Backlash", "Carrier shims", "Toe and heel", "Face and root"],
    example:
      "41 on 10, spec 0.006 to 0.010 in, measured 0.012 in, pattern toward the toe: move the ring gear 0.0031 in toward the pinion.",
  },
  offer: {
    ask: "Set up ring and pinion",
    gives: "pinion depth, backlash, preload, pattern",
    picture: (
      <>
        <path d="M0 40h34" className="shaft" />
        <path d="M30 30l20 5v10l-20 5z" className="metal" />
        <Gear x={72} y={40} r={28} n={22} hub={8} />
        <path d="M90 12l14-8m-14 8l4-10" className="line" />
        <circle cx="106" cy="16" r="11" className="ring" />
        <path d="M106 16l5-6" className="chalk" />
      </>
    ),
  },
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
