import { IconClipboardList } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "service",
  title: "Jobs",
  group: "jobs",
  offer: {
    ask: "Jobs and service",
    gives: "what is on the lift, and what is due",
    picture: (
      <>
        <path d="M18 74V34M102 74V34" className="shaft" />
        <path d="M10 34h100" className="shaft" />
        <path d="M28 30V20l10-4 10-10h26l10 10 10 4v10z" className="metal" />
        <circle cx="42" cy="32" r="8" className="tire" />
        <circle cx="80" cy="32" r="8" className="tire" />
      </>
    ),
  },
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
