import { IconClipboardList } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "service",
  title: "Jobs",
  loose: {
    path: "/jobs",
    page: page(
      () => import("./JobsPage"),
      (m) => m.JobsPage,
    ),
    key: "j",
    keyWords: "the jobs of the shop",
  },
  unit: {
    path: "service",
    door: "Jobs and service",
    icon: IconClipboardList,
    page: page(
      () => import("./UnitServicePage"),
      (m) => m.UnitServicePage,
    ),
    has: () => true,
  },
  pages: [
    {
      path: "/jobs/:id",
      page: page(
        () => import("./JobPage"),
        (m) => m.JobPage,
      ),
    },
    {
      path: "/due",
      page: page(
        () => import("./DuePage"),
        (m) => m.DuePage,
      ),
    },
  ],
  keys: [],
  records: { job: "⚑" },
};
