import { IconStackBack } from "@tabler/icons-react";
import { Gear } from "../../drawing/gear";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "gearcase",
  title: "Gearcase",
  group: "repair",
  offer: {
    ask: "Gearcase shims and backlash",
    gives: "from the stamp to the shim stack",
    picture: (
      <>
        <path d="M56 4V44" className="shaft" />
        <path d="M40 4h32v34c14 4 26 8 26 20s-14 16-40 16-28-6-28-18c0-8 4-14 10-18z" className="case" />
        <path d="M46 34h20M46 39h20M46 44h20" className="chalk" />
        <Gear x={66} y={58} r={11} n={12} hub={3} />
      </>
    ),
  },
  loose: {
    path: "/gearcase",
    page: page(
      () => import("./GearcasePage"),
      (m) => m.LooseGearcasePage,
    ),
    key: "l",
    keyWords: "gearcase shims and backlash",
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
  keys: [],
  records: { shims: "☰", backlash: "⇄", inspection: "◎" },
};
