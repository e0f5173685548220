import { IconStackBack } from "@tabler/icons-react";
import { Gear } from "../../drawing/gear";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "gearcase",
  title: "Gearcase",
  group: "repair",
  help: {
    steps: [
      "Type the stamp as it is on the case.",
      "Look up the unit and what a plus does in the manual; enter both.",
      "Enter the nominal shims, and what is in the box: the stacks follow.",
      "Measure the backlash and let the case teach its own figure.",
    ],
    schools:
      "One school trusts the stamp, one the measured backlash. The stamp comes first here, the backlash decides.",
    caution: "Lanyard and key out before a hand goes near the propeller. Turn the driveshaft only the engine's way.",
    words: ["Gearcase", "Clutch dog", "Shift interrupt switch"],
    example: "P −3, F +1, R 0: −0.03, +0.01 and 0 mm by most manuals.",
  },
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
