import { IconCamera } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "marks",
  title: "Teeth on a photo",
  loose: {
    path: "/photo",
    page: page(
      () => import("./LoosePage"),
      (m) => m.LoosePhotoPage,
    ),
    key: "i",
    keyWords: "count teeth on a photo",
  },
  aside: true,
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
    ["Space", "on a photo: mark a tooth; Backspace takes the last mark back"],
  ],
  records: {},
};
