import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "practice",
  title: "Practice",
  group: "learn",
  help: {
    steps: [
      "Do today's five minutes of drills, or open a hidden unit.",
      "Work the unit as you would in the shop: chock, lift, turn, look, count. Time runs.",
      "Decide, and say how sure you are.",
      "See what each reading showed, and the cheapest way beside yours.",
    ],
    schools:
      "Some shops let an apprentice watch for a year, some let him count from the first day. Here he counts, and nothing breaks.",
    caution: "On a real vehicle: chocks, jack stands, nobody under it before. The maker's manual decides.",
    words: ["Numerically higher", "Backlash"],
    example: "A tag says 4.64. One wheel turned four times moves the flange 6.85 turns: the gears are 3.42.",
  },
  offer: {
    ask: "Practice",
    gives: "hidden units and drills, scored",
    picture: (
      <>
        <circle cx="42" cy="40" r="28" className="case" />
        <path d="M42 40L58 22" className="chalk" />
        <path d="M84 20h24M84 40h24M84 60h14" className="line" />
      </>
    ),
  },
  loose: {
    path: "/practice",
    page: page(
      () => import("./PracticePage"),
      (m) => m.PracticePage,
    ),
    key: "y",
    keyWords: "practice on hidden units",
  },
  pages: [
    {
      path: "/practice/unit/:kind/:level/:seed",
      page: page(
        () => import("./UnitPage"),
        (m) => m.UnitPage,
      ),
    },
    {
      path: "/practice/task/:task",
      page: page(
        () => import("./TaskPage"),
        (m) => m.TaskPage,
      ),
    },
    {
      path: "/practice/new-task",
      page: page(
        () => import("./NewTaskPage"),
        (m) => m.NewTaskPage,
      ),
    },
    {
      path: "/practice/class",
      page: page(
        () => import("./ClassPage"),
        (m) => m.ClassPage,
      ),
    },
    {
      path: "/practice/drill/:drill",
      page: page(
        () => import("./DrillPage"),
        (m) => m.DrillPage,
      ),
    },
  ],
  keys: [
    ["→ ←", "turn the wheel that has the focus, a little"],
    ["PgUp PgDn", "turn it a quarter turn"],
    ["Enter", "next card of a drill"],
  ],
  records: {},
};
