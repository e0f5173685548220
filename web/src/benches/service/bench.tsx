import { IconClipboardList } from "@tabler/icons-react";
import { type Bench, page } from "../bench";

export const bench: Bench = {
  id: "service",
  title: "Jobs",
  group: "jobs",
  help: {
    steps: [
      "Open a job with the complaint in the owner's words.",
      "Write findings and work as they happen: cause and correction.",
      "Close the gates that apply, or check what you leave and why.",
      "Print the job sheet, and the owner's sheet.",
    ],
    caution: "What is left open is written on the owner's sheet: leave nothing unsaid.",
    words: ["Complaint, cause, correction"],
    example:
      "A bang in the ditch and no drive since: axle shaft sheared at the splines; shaft and seal replaced, oil filled.",
  },
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
