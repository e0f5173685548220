import { IconZoomQuestion } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "findfault",
  title: "Find the fault",
  group: "repair",
  help: {
    steps: [
      "Pick the complaint, or type it in your own words.",
      "Do the test the bench asks for. It picks the test that narrows it down fastest.",
      "Tap what you saw.",
      "Open nothing until the plate is practically certain, or no test is left.",
    ],
    schools:
      "Some open first and look, some test first. The bench weighs minutes: where opening is quicker it says so.",
    caution: "A sheared shaft lets it roll in gear: chock both ways before anything is turned.",
    words: ["Complaint, cause, correction", "Axle shaft", "Limited slip"],
    example: "Hums with road speed, in any gear: most likely a wheel or tire out of balance, bent or worn unevenly.",
  },
  offer: {
    ask: "It doesn't drive, or makes noise",
    gives: "from the complaint to the part",
    picture: (
      <>
        <path d="M6 40H54M68 40H114" className="shaft" />
        <path d="M54 30l6 8-5 5 7 8M70 28l-5 8 6 6-6 9" className="line" />
        <circle cx="61" cy="40" r="24" className="ring" />
        <path d="M79 57l18 17" className="chalk" />
      </>
    ),
  },
  loose: {
    path: "/find-fault",
    page: page(
      () => import("./FindPage"),
      (m) => m.LooseFindPage,
    ),
    key: "f",
    keyWords: "it doesn't drive, or makes noise",
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
