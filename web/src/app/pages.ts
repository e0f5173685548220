import { type Group, groups } from "../benches/bench";
import { benches } from "../benches/registry";

/** Pages under one name in the bar on top. */
export type PageGroup = { name: string; pages: { to: string; name: string }[] };

const group = (g: Group): PageGroup => ({
  name: groups[g],
  pages: benches.flatMap((b) => (b.group === g && b.offer ? [{ to: b.loose.path, name: b.title }] : [])),
});

/** What a person may open, as the trade thinks: seven names at most. */
export const pagesOf = (person?: { role: string }): PageGroup[] => [
  { name: "Units", pages: [{ to: "/units", name: "Units" }] },
  group("jobs"),
  { ...group("ratios"), pages: [{ to: "/", name: "Count teeth or turns" }, ...group("ratios").pages] },
  group("gears"),
  group("repair"),
  group("learn"),
  ...(person
    ? [
        {
          name: "Shop",
          pages: [
            { to: "/shop", name: "Price lists and settings" },
            ...(person.role === "owner"
              ? [
                  { to: "/experience", name: "Other shops' experience" },
                  { to: "/people", name: "People" },
                  { to: "/audit", name: "Sign-ins and exports" },
                  { to: "/files", name: "Back up, import, export" },
                ]
              : []),
          ],
        },
      ]
    : []),
];
