import { IconRoute } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "trace",
  title: "Trace",
  offer: "trace where the power goes",
  loose: {
    path: "/trace",
    page: page(
      () => import("./TracePages"),
      (m) => m.LooseTracePage,
    ),
    key: "t",
    keyWords: "trace: where does the power go?",
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
    ["L, C, K", "on the trace: low range, center lock, axle lock"],
    ["0", "on the trace: back to how it starts"],
    ["Ctrl Z, Ctrl Y", "on the trace: undo, redo"],
    ["Alt 1 … 7", "on the trace: power, grip, build, gears, shifts, on stands, compare"],
  ],
  records: { driveline: "⚙" },
};
