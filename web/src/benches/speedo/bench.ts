import { IconGauge } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "speedometer",
  title: "Speedometer",
  offer: "make the speedometer true",
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
