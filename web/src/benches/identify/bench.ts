import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "identify",
  title: "Identify",
  group: "ratios",
  help: {
    steps: [
      "Pick the part in front of you.",
      "Take the quickest reading first: tag, stamp, then teeth or turns.",
      "Turn both wheels, or hold one and say so: one held wheel halves the count.",
      "Judge what is left of a turn by eye or tape. More turns narrow the range.",
      "Stop when the plate says the ratio is settled. File the readings with a unit.",
    ],
    schools:
      "Some shops trust a tag, some count every time. Here a tag is one reading: about one in ten is wrong or from another axle.",
    caution:
      "Chock the wheels that stay down, lift at the rated points, set jack stands. In neutral with the brake off it rolls.",
    words: ["Gear ratio", "Ring and pinion", "Void a reading"],
    example: "One wheel held, the other turned twice, the flange turned 5 and a bit: about 5.05 (4.98 to 5.23).",
  },
  loose: {
    path: "/count/:kind",
    page: page(
      () => import("./BenchPage"),
      (m) => m.BenchPage,
    ),
  },
  pages: [
    {
      path: "/stages/:id",
      page: page(
        () => import("./StagePage"),
        (m) => m.StagePage,
      ),
    },
  ],
  keys: [
    ["1 … 7", "on a bench: add a reading by the method of that number"],
    ["N", "on a bench: take the recommended next measurement"],
    ["B", "on a bench: blind counting on or off"],
    ["E", "on a bench: where the numbers come from"],
    ["Space or Enter", "in the counter: count one"],
    ["Backspace", "in the counter: take one back"],
    ["D", "in the counter: done, use this count"],
  ],
  records: { reading: "●", strike: "—" },
};
