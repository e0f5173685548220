import { Select } from "@mantine/core";
import {
  type Icon,
  IconAdjustmentsHorizontal,
  IconBottle,
  IconDroplet,
  IconEar,
  IconEngine,
  IconFlame,
  IconHistory,
  IconManualGearbox,
  IconTemperature,
} from "@tabler/icons-react";
import { useQuery } from "@tanstack/react-query";
import Fuse from "fuse.js";
import { useMemo, useState } from "react";
import { api, type Doc, type FaultComplaint, take } from "../../api/client";
import { key } from "../../api/keys";
import classes from "./findfault.module.css";
import { SetLevers } from "./SetLevers";
import type { Done } from "./tests";

/** What people come with, by what they notice it with. */
const kinds: [group: string, words: string, icon: Icon][] = [
  ["drive", "How it drives", IconEngine],
  ["noise", "Noise", IconEar],
  ["shift", "How it shifts", IconManualGearbox],
  ["heat", "Heat, smell", IconFlame],
  ["cooling", "Cooling water", IconTemperature],
  ["leak", "Leaks", IconDroplet],
  ["oil", "Oil", IconBottle],
  ["history", "When it started", IconHistory],
];

type Props = { doc: Doc; first: boolean; onPick: (d: Done) => void };

const none: FaultComplaint[] = [];
const optionOf = (c: FaultComplaint) => ({ value: c.id, label: c.words });

/** Complaints by any of the typed words, or nearly, nearest first; all, while nothing is typed. */
function useFinder(all: FaultComplaint[]) {
  const fuse = useMemo(
    () =>
      new Fuse(all, {
        keys: ["words", { name: "heard", weight: 0.7 }],
        threshold: 0.25,
        ignoreLocation: true,
        useExtendedSearch: true,
      }),
    [all],
  );
  return (search: string) => {
    const words = search.split(/[^\p{L}]+/u).filter((w) => w.length > 2);
    if (words.length === 0) return all.map(optionOf);
    return fuse.search(words.join(" | ")).map((r) => optionOf(r.item));
  };
}

/** Complaints in the trade's words, only those that this unit can have: by picture, or typed. */
export function Complaints({ doc, first, onPick }: Props) {
  const [open, setOpen] = useState<string>();
  const [setting, setSetting] = useState(false);
  const list = useQuery({
    queryKey: key.complaints(doc),
    queryFn: () => take(api.POST("/calc/find-fault/complaints", { body: { driveline: doc } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const all = list.data ?? none;
  const find = useFinder(all);
  const pick = (c: FaultComplaint | undefined) => {
    if (!c) return;
    setOpen(undefined);
    setSetting(false);
    onPick({ title: c.words, what: "", evidence: c.evidence });
  };
  return (
    <>
      <div className={classes.kinds}>
        {kinds
          .filter(([g]) => all.some((c) => c.group === g))
          .map(([g, words, Picture]) => (
            <button
              key={g}
              type="button"
              aria-expanded={open === g}
              onClick={() => setOpen(open === g ? undefined : g)}
            >
              <Picture size={30} stroke={1.4} aria-hidden />
              {words}
            </button>
          ))}
        <button type="button" aria-haspopup="dialog" onClick={() => setSetting(true)}>
          <IconAdjustmentsHorizontal size={30} stroke={1.4} aria-hidden />
          In one gear or range
        </button>
      </div>
      {setting && <SetLevers doc={doc} onPick={pick} onClose={() => setSetting(false)} />}
      {open && (
        <div className={classes.choices}>
          {all
            .filter((c) => c.group === open)
            .map((c) => (
              <button key={c.id} type="button" onClick={() => pick(c)}>
                {c.words}
              </button>
            ))}
        </div>
      )}
      <Select
        aria-label="Complaint"
        placeholder={first ? "or type the complaint" : "What else does it do?"}
        searchable
        value={null}
        onChange={(v) => {
          pick(all.find((x) => x.id === v));
          // So that the keys of the next test aren't typed into this field.
          setTimeout(() => document.activeElement instanceof HTMLElement && document.activeElement.blur(), 0);
        }}
        filter={({ search }) => find(search)}
        nothingFoundMessage="No ready complaint has these words. Try another word, or pick a group above."
        data={all.map(optionOf)}
      />
    </>
  );
}
