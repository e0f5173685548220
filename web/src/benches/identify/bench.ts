import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "identify",
  title: "Identify",
  group: "ratios",
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
    ["1 … 6", "on a bench: add a reading by the method of that number"],
    ["N", "on a bench: take the recommended next measurement"],
    ["B", "on a bench: blind counting on or off"],
    ["E", "on a bench: where the numbers come from"],
    ["Space or Enter", "in the counter: count one"],
    ["Backspace", "in the counter: take one back"],
    ["D", "in the counter: done, use this count"],
  ],
  records: { reading: "●", strike: "—" },
};
