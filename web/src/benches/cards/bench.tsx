import { IconClipboardCheck } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "cards",
  title: "Work cards",
  group: "jobs",
  help: {
    steps: [
      "Pick the card for the job, on the unit.",
      "Go step by step: each shows its caution where it counts.",
      "Write the figures where they are asked.",
      "A hold needs a second person to look.",
    ],
    caution: "A card reminds; the maker's manual and local rules come first.",
    words: ["Change gears"],
    example: "Swap change gears: drain, cover off, both gears out together, count, in, direction, cover, oil.",
  },
  offer: {
    ask: "Work cards",
    gives: "each job step by step, with its cautions",
    picture: (
      <>
        <rect x="34" y="8" width="52" height="66" rx="3" className="sheet" />
        <path d="M44 26l4 4 7-8M44 42l4 4 7-8" className="chalk" />
        <path d="M62 27h16M62 43h16M46 59h32" className="line" />
      </>
    ),
  },
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
