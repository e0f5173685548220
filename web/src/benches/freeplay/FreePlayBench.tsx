import { NativeSelect, SegmentedControl } from "@mantine/core";
import { type ReactNode, useState } from "react";
import type { Doc, FreePlay } from "../../api/client";
import { Band } from "../../app/Band";
import { Waiting } from "../../app/Waiting";
import { bind } from "../../form/bind";
import { PartShares } from "../../machine/PartShares";
import classes from "./freeplay.module.css";
import { PlayFound } from "./PlayFound";
import { RockedList } from "./RockedList";
import { type Form, noRocked, type Rocking, useRocked } from "./useRocked";

type Props = { store: string; title: ReactNode; unit?: number; doc: Doc; choose?: ReactNode };

/** Where the play of a driveline sits: rocked by hand, shaft after shaft held. */
export function FreePlayBench({ store, title, unit, doc, choose }: Props) {
  const rocking = useRocked(store, doc);
  const [touch, setTouch] = useState<"rock" | "hold">("rock");
  const { trace, answer, error, measured, put, ready } = rocking;
  const now = measured[measured.length - 1] ?? noRocked;
  const onShaft = (id: string) => {
    const without = now.hold.filter((h) => h !== id);
    if (touch === "rock") put({ at: id, hold: without });
    else if (id !== now.at) put({ hold: now.hold.includes(id) ? without : [...now.hold, id] });
  };
  return (
    <>
      <Band className="no-print">
        <h1>{title}</h1>
        {choose}
      </Band>
      <main id="main" className="page wide">
        {trace && (
          <PartShares
            doc={doc}
            trace={trace}
            parts={answer?.parts}
            chosen={now.at}
            onShaft={onShaft}
            of="What you feel there"
          />
        )}
        <div className={classes.split}>
          <section className={classes.ask} aria-label="What you rocked">
            <div className="row wrap">
              <SegmentedControl
                value={touch}
                onChange={(v) => setTouch(v as "rock" | "hold")}
                data={[
                  { value: "rock", label: "Tap the shaft you rock" },
                  { value: "hold", label: "… and the one you hold" },
                ]}
              />
            </div>
            <Levers doc={doc} rocking={rocking} />
            <RockedList rocking={rocking} />
          </section>
          <section aria-label="Where the play is" aria-live="polite">
            {answer ? (
              <PlayFound answer={answer} rocking={rocking} unit={unit} />
            ) : (
              <Waiting
                title="Usual or too much, and where it is"
                missing={[!ready && "the shaft you rock: tap it above"]}
                error={error}
              />
            )}
          </section>
        </div>
      </main>
    </>
  );
}

/** How the unit was while it was rocked: on its wheels or lifted, and its levers. */
function Levers({ doc, rocking }: { doc: Doc; rocking: Rocking }) {
  const { form, set, refused, trace } = rocking;
  const b = bind<Form, FreePlay>(form, set, refused);
  return (
    <div className={classes.levers}>
      {doc.lies !== "bench" &&
        doc.parts.some((p) => p.kind === "wheel") &&
        b.choice(
          "Wheels",
          "wheels",
          [
            { value: "ground", label: "on the ground, chocked" },
            { value: "lifted", label: "lifted, free" },
            { value: "held", label: "lifted and held" },
          ],
          { field: null },
        )}
      {trace?.selectors.map((s) => (
        <NativeSelect
          key={s.id}
          label={s.name}
          value={s.value}
          onChange={(e) => set({ select: { ...form.select, [s.id]: e.currentTarget.value } })}
          data={s.options.map((o) => ({ value: o.value, label: o.words }))}
        />
      ))}
    </div>
  );
}
