import { IconRoute } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "trace",
  title: "Trace",
  group: "ratios",
  help: {
    steps: [
      "Pick the layout, or open the unit's own.",
      "Set the levers as they are in the vehicle.",
      "Hold, lift or put a wheel on ice, and read the line on top.",
      "Tap a shaft to turn it by hand, or to give it an rpm.",
    ],
    caution:
      "Drawn is not chocked: before a real wheel is turned by hand, chock the others and put the gearbox in neutral.",
    words: ["Driveshaft", "Locker", "2WD, 4WD high, 4WD low"],
    example:
      "Full-time case in low, 1st gear: 28.432 turns of the crankshaft turn the wheels once. Center locked and a front wheel held, it binds.",
  },
  offer: {
    ask: "Where does the power go?",
    gives: "set the levers and watch each wheel",
    picture: (
      <>
        <path d="M14 40H106M22 14V66M98 14V66" className="shaft" />
        <rect x="12" y="6" width="20" height="14" rx="4" className="tire" />
        <rect x="12" y="60" width="20" height="14" rx="4" className="tire" />
        <rect x="88" y="6" width="20" height="14" rx="4" className="tire" />
        <rect x="88" y="60" width="20" height="14" rx="4" className="tire" />
        <rect x="48" y="30" width="24" height="20" className="metal" />
        <path d="M76 40h14m-6-6l6 6-6 6" className="chalk" />
      </>
    ),
  },
  loose: {
    path: "/trace",
    page: page(
      () => import("./TracePages"),
      (m) => m.LooseTracePage,
    ),
    key: "t",
    keyWords: "where does the power go?",
  },
  unit: {
    path: "trace",
    door: "Trace the power",
    icon: IconRoute,
    page: page(
      () => import("./TracePages"),
      (m) => m.UnitTracePage,
    ),
    has: () => true,
  },
  keys: [
    ["P", "on the trace: turn or pause"],
    [". and ,", "on the trace: step the input a sixteenth of a turn on or back"],
    ["] and [", "on the trace: next or previous gear"],
    ["L, C, K", "on the trace: low range, center lock, locker"],
    ["0", "on the trace: start over"],
    ["Ctrl Z, Ctrl Y", "on the trace: undo, redo"],
    ["Alt 1 … 7", "on the trace: power, grip, build, gears, shifts, on stands, compare"],
  ],
  records: { driveline: "⚙" },
};
