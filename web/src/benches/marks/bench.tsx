import { IconCamera } from "@tabler/icons-react";
import { Gear } from "../../drawing/gear";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "marks",
  title: "Teeth on a photo",
  group: "ratios",
  help: {
    steps: [
      "Take the photo square to the gear, in even light.",
      "Tap the tip of each tooth that you see.",
      "The bench finds the circle and says how many teeth fit it.",
      "Where a part is hidden it gives a range, not a count.",
    ],
    caution: "Light and camera only: the part stays clamped, hands out of the mesh.",
    words: ["Ring and pinion"],
    example: "Every tip of a 41-tooth ring gear tapped: 41, with the spacing even all around.",
  },
  offer: {
    ask: "Teeth on a photo",
    gives: "mark each tooth and count",
    picture: (
      <>
        <path d="M20 20h18l5-8h34l5 8h18v50H20z" className="case" />
        <Gear x={60} y={44} r={20} n={16} hub={5} />
        <circle cx="60" cy="24" r="4" className="dot" />
        <circle cx="68" cy="26" r="4" className="dot" />
        <circle cx="74" cy="31" r="4" className="dot" />
      </>
    ),
  },
  loose: {
    path: "/photo",
    page: page(
      () => import("./LoosePage"),
      (m) => m.LoosePhotoPage,
    ),
    key: "i",
    keyWords: "count teeth on a photo",
  },
  unit: {
    path: "photos",
    door: "Photos",
    icon: IconCamera,
    page: page(
      () => import("./PhotosPage"),
      (m) => m.PhotosPage,
    ),
    has: () => true,
  },
  pages: [
    {
      path: "/photos/:id",
      page: page(
        () => import("./PhotoPage"),
        (m) => m.PhotoPage,
      ),
    },
  ],
  keys: [
    ["← ↑ → ↓", "on a photo: move the cross, with Shift farther"],
    ["Space", "on a photo: mark a tooth; Backspace undoes the last mark"],
  ],
  records: {},
};
