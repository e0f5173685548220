import { IconPropeller } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "propeller",
  title: "Propeller",
  group: "repair",
  help: {
    steps: [
      "Enter the gearcase ratio, the pitch and the engine rpm.",
      "Add the speed to get the slip, or the slip to get the speed.",
      "Enter the rpm at full throttle and the WOT range: the pitch to try follows.",
    ],
    schools: "Some go by 150 rpm an inch of pitch, some by 200. Both are shown.",
    caution: "Run it moored or on open water with the lanyard on. Nobody near the propeller.",
    words: ["Pitch, slip, WOT"],
    example: "2.07 gearcase, 19 inches, 5200 rpm, 38 kn: slip 3.3 %, lower than usual for a light planing hull.",
  },
  offer: {
    ask: "Propeller and slip",
    gives: "pitch, WOT rpm, and the ratio behind them",
    picture: (
      <>
        <path d="M6 40H60" className="shaft" />
        <path
          d="M60 40c2-24 18-32 24-26s-4 22-24 26zc22 8 30 22 24 28s-22-4-24-28zc-6 20-2 34-10 34s-8-20 10-34z"
          className="metal"
        />
        <circle cx="60" cy="40" r="7" className="metal" />
        <path d="M92 30h22m-6-6l6 6-6 6" className="chalk" />
      </>
    ),
  },
  loose: {
    path: "/propeller",
    page: page(
      () => import("./PropellerPage"),
      (m) => m.LoosePropellerPage,
    ),
    key: "p",
    keyWords: "slip, pitch and gear ratio of a boat",
  },
  unit: {
    path: "propeller",
    door: "Propeller",
    icon: IconPropeller,
    page: page(
      () => import("./PropellerPage"),
      (m) => m.UnitPropellerPage,
    ),
    has: (u) => u.kind === "boat",
  },
  keys: [],
  records: { propeller: "✣" },
};
