import { IconEar } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "listen",
  title: "Name a sound",
  group: "repair",
  help: {
    steps: [
      "A passenger records ten to sixty seconds while the speed changes.",
      "Add the speed: by the phone, from a file, or one constant speed.",
      "Enter the tire's rolling circumference and what is known of axle and gear.",
      "The loudest source is named with its chance. Play it, and let the ear agree.",
    ],
    schools:
      "Some name a whine by ear alone, some by swapping parts. Here the number of tones per turn names it, and a hand test proves it.",
    caution: "A passenger records, on an empty or closed road, at lawful speed. Lift and chock before any hand test.",
    words: ["Ring and pinion", "Backlash"],
    example: "A van hums from sixty on: 43 tones per wheel turn, 12 per driveshaft turn. Ring and pinion, 43:12.",
  },
  offer: {
    ask: "Name a sound",
    gives: "which gear, shaft or wheel howls",
    picture: (
      <>
        <circle cx="60" cy="45" r="34" className="case" />
        <path d="M10 45h22l5-14 7 28 8-40 8 52 8-36 6 18 5-8h31" className="chalk" />
      </>
    ),
  },
  loose: {
    path: "/listen",
    page: page(
      () => import("./ListenPage"),
      (m) => m.LooseListenPage,
    ),
    key: "h",
    keyWords: "name a whine or a hum by its sound",
  },
  unit: {
    path: "listen",
    door: "Name a sound",
    icon: IconEar,
    page: page(
      () => import("./ListenPage"),
      (m) => m.UnitListenPage,
    ),
    has: (u) => u.kind !== "boat",
  },
  pages: [
    {
      path: "/recordings/:id",
      page: page(
        () => import("./RecordingPage"),
        (m) => m.RecordingPage,
      ),
    },
  ],
  keys: [],
  records: {},
};
