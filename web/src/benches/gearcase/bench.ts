import { IconStackBack } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "gearcase",
  title: "Gearcase",
  offer: "shim a boat's gearcase",
  loose: {
    path: "/gearcase",
    page: page(
      () => import("./GearcasePage"),
      (m) => m.LooseGearcasePage,
    ),
    key: "l",
    keyWords: "shims and backlash of a gearcase",
  },
  unit: {
    path: "gearcase",
    door: "Gearcase",
    icon: IconStackBack,
    page: page(
      () => import("./GearcasePage"),
      (m) => m.UnitGearcasePage,
    ),
    has: (u) => u.stages.some((s) => s.present && s.question.kind === "gearcase"),
  },
  aside: true,
  keys: [],
  records: { shims: "☰", backlash: "⇄", inspection: "◎" },
};
