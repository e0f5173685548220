import { IconCamera } from "@tabler/icons-react";
import { Gear } from "../../drawing/gear";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "marks",
  title: "Teeth on a photo",
  group: "ratios",
  help: {
    steps: [
      "Take the photo straight on, light from the side, the whole rim in view.",
      "The bench counts the teeth and marks each one it sees.",
      "Check the marks: drag one, tap to add one, tap a mark to remove it.",
      "Can't count? It says why. Mark each tooth by hand, and the spacing is checked.",
    ],
    caution: "Light and camera only: the part stays clamped, hands out of the mesh.",
    words: ["Ring and pinion"],
    example: "A 41-tooth ring gear under a bearing cap: 36 teeth marked, 5 more counted by the spacing.",
  },
  offer: {
    ask: "Teeth on a photo",
    gives: "it counts, you check",
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
