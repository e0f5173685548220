import { IconClipboardCheck } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "cards",
  title: "Work cards",
  offer: "work by a card, step by step",
  loose: {
    path: "/cards",
    page: page(
      () => import("./CardsPage"),
      (m) => m.CardsPage,
    ),
    key: "w",
    keyWords: "work cards",
  },
  unit: {
    path: "cards",
    door: "Work cards",
    icon: IconClipboardCheck,
    page: page(
      () => import("./CardsPage"),
      (m) => m.UnitCardsPage,
    ),
    has: () => true,
  },
  over: page(
    () => import("./BackToCard"),
    (m) => m.BackToCard,
  ),
  pages: [
    {
      path: "/cards/:card",
      page: page(
        () => import("./CardPage"),
        (m) => m.CardPage,
      ),
    },
    {
      path: "/card-runs/:id",
      page: page(
        () => import("./RunPage"),
        (m) => m.RunPage,
      ),
    },
  ],
  keys: [["Enter", "on a card: check the step off that is next"]],
  records: { card: "☑" },
};
