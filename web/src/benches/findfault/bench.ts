import { IconZoomQuestion } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "findfault",
  title: "Find the fault",
  offer: "find out what is broken",
  loose: {
    path: "/find-fault",
    page: page(
      () => import("./FindPage"),
      (m) => m.LooseFindPage,
    ),
    key: "f",
    keyWords: "which part is broken?",
  },
  unit: {
    path: "find-fault",
    door: "Find the fault",
    icon: IconZoomQuestion,
    page: page(
      () => import("./FindPage"),
      (m) => m.UnitFindPage,
    ),
    has: () => true,
  },
  pages: [
    {
      path: "/faults",
      page: page(
        () => import("./RecordPage"),
        (m) => m.RecordPage,
      ),
    },
  ],
  keys: [["1 2 3 …", "what the next test showed"]],
  records: { fault: "✗", repair: "✔" },
};
