import { IconGauge } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "speedometer",
  title: "Speedometer",
  group: "gears",
  help: {
    steps: [
      "Enter the tire and the axle ratio, or open the unit.",
      "Count drive and driven gear.",
      "If it read right before the change, enter the axle it read right with: the new gears follow.",
      "Check on the road by stopwatch or a recorded track.",
    ],
    schools: "One school never lets a needle read low, one takes the nearest gear. Both picks are shown.",
    caution: "Check with a passenger reading, on a closed or empty road, at a lawful speed.",
    words: ["Drive gear, driven gear", "Tone ring"],
    example: "Drive 8 and driven 20 read right on 41/11. With 41/10 it takes drive 8 and driven 22.",
  },
  offer: {
    ask: "Speedometer reads wrong",
    gives: "drive gear, driven gear, sensor, road check",
    picture: (
      <>
        <path d="M22 66a42 42 0 1 1 76 0z" className="sheet" />
        <path d="M32 62l6-4M36 36l6 4M60 24v8M84 36l-6 4M88 62l-6-4" className="line" />
        <path d="M60 60L84 36" className="chalk" />
        <circle cx="60" cy="60" r="5" className="dot" />
      </>
    ),
  },
  loose: {
    path: "/speedometer",
    page: page(
      () => import("./SpeedoPage"),
      (m) => m.LooseSpeedoPage,
    ),
    key: "s",
    keyWords: "speedometer: gears, calibration, check",
  },
  unit: {
    path: "speedometer",
    door: "Speedometer",
    icon: IconGauge,
    page: page(
      () => import("./SpeedoPage"),
      (m) => m.UnitSpeedoPage,
    ),
    has: (u) => u.kind !== "boat",
  },
  keys: [],
  records: { speedometer: "✓", calibration: "»", check: "≈" },
};
