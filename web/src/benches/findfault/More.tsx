import { Select } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, type Doc, take } from "../../api/client";
import { key } from "../../api/keys";
import { chance } from "../../format/numbers";
import { FirstBroken } from "./FirstBroken";
import classes from "./findfault.module.css";
import { ShiftMechanism } from "./ShiftMechanism";
import { Shock } from "./Shock";
import type { Done } from "./tests";

type Props = { doc: Doc; store: string; onSign: (d: Done) => void };

/** What goes beyond the next test: any sign taken in, the table behind it, and three reckonings. */
export function More({ doc, store, onSign }: Props) {
  const [open, setOpen] = useState<string>();
  const shifts = doc.parts.some((p) => p.gearcase?.shift);
  const wheels = doc.parts.some((p) => p.kind === "wheel");
  const panels = [
    ["signs", "Something else noticed?", <Signs key="signs" doc={doc} onSign={onSign} />],
    ["first", "Which of them broke first?", <FirstBroken key="first" store={`${store}.first`} />],
    ...(wheels
      ? [["shock", "What did the shock load do?", <Shock key="shock" doc={doc} store={`${store}.shock`} />]]
      : []),
    ...(shifts ? [["shift", "Shift cable and dogs", <ShiftMechanism key="shift" store={`${store}.shift`} />]] : []),
  ] as const;
  return (
    <section className={classes.more} aria-label="More">
      <div className="row">
        {panels.map(([id, words]) => (
          <button
            key={id as string}
            type="button"
            className="linklike"
            aria-expanded={open === id}
            onClick={() => setOpen(open === id ? undefined : (id as string))}
          >
            {words}
          </button>
        ))}
        <Link to="/faults">How often were we right?</Link>
      </div>
      {panels.map(([id, , panel]) => (open === id ? panel : null))}
    </section>
  );
}

/** Any sign of this unit, whatever the next test is, with the table by which it is weighed. */
function Signs({ doc, onSign }: { doc: Doc; onSign: (d: Done) => void }) {
  const [chosen, setChosen] = useState<string>();
  const list = useQuery({
    queryKey: key.faultSigns(doc),
    queryFn: () => take(api.POST("/calc/find-fault/signs", { body: { driveline: doc } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const all = list.data ?? [];
  const sign = all.find((s) => `${s.id} ${s.part ?? ""}` === chosen);
  const say = (says: string, words: string) => {
    if (!sign) return;
    onSign({ title: sign.words, what: words, evidence: [{ sign: sign.id, part: sign.part, says }] });
    setChosen(undefined);
  };
  return (
    <div className={classes.panel}>
      <Select
        label="What you heard, felt, smelled or saw"
        searchable
        clearable
        value={chosen ?? null}
        onChange={(v) => setChosen(v ?? undefined)}
        data={all.map((s) => ({ value: `${s.id} ${s.part ?? ""}`, label: s.words }))}
      />
      {sign && (
        <>
          <div className="row">
            <button type="button" className={classes.answer} onClick={() => say("yes", "yes")}>
              Yes
            </button>
            <button type="button" className={classes.answer} onClick={() => say("no", "no")}>
              No
            </button>
          </div>
          {sign.normal && <p>{sign.normal}</p>}
          <table className="figures">
            <caption>How often this happens, typical</caption>
            <tbody>
              {sign.faults.slice(0, 12).map((f) => (
                <tr key={f.name}>
                  <th scope="row">{f.name}</th>
                  <td>{chance(f.chance)}</td>
                </tr>
              ))}
              <tr>
                <th scope="row">something else</th>
                <td>{chance(sign.usual)}</td>
              </tr>
            </tbody>
          </table>
        </>
      )}
    </div>
  );
}
