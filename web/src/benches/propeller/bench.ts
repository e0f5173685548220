import { IconPropeller } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "propeller",
  title: "Propeller",
  offer: "find a boat's slip and pitch",
  loose: {
    path: "/propeller",
    page: page(
      () => import("./PropellerPage"),
      (m) => m.LoosePropellerPage,
    ),
    key: "p",
    keyWords: "slip, pitch and ratio of a boat",
  },
  unit: {
    path: "propeller",
    door: "Propeller",
    icon: IconPropeller,
    page: page(
      () => import("./PropellerPage"),
      (m) => m.UnitPropellerPage,
    ),
    has: (u) => u.kind === "boat",
  },
  aside: true,
  keys: [],
  records: { propeller: "✣" },
};
