import { useRef } from "react";
import type { Doc, DrivelineState, Trace, TracedShaft } from "../../api/client";
import { fixed } from "../../format/numbers";
import { useApart } from "../../machine/apart";
import { Machine, usePlan } from "../../machine/Machine";
import { frameStyle } from "../../machine/upright";
import { useTrace } from "../../machine/useTrace";
import { Controls } from "./Controls";
import classes from "./compare.module.css";
import { ShaftState } from "./PowerPanel";

type Side = { state: DrivelineState; onState: (s: DrivelineState) => void };

/** Two states of one driveline side by side, and what differs between them. */
export function Compare({
  doc,
  first,
  second,
  onPart,
}: {
  doc: Doc;
  first: Side;
  second: Side;
  onPart: (id: string) => void;
}) {
  const a = useTrace(doc, first.state);
  const b = useTrace(doc, second.state);
  return (
    <>
      <div className={classes.sides}>
        <Drawn name="One" doc={doc} side={first} trace={a.trace} refused={a.refused?.message} onPart={onPart} />
        <Drawn name="Other" doc={doc} side={second} trace={b.trace} refused={b.refused?.message} onPart={onPart} />
      </div>
      {a.trace && b.trace && <Differences a={a.trace} b={b.trace} />}
    </>
  );
}

function Drawn({
  name,
  doc,
  side,
  trace,
  refused,
  onPart,
}: {
  name: string;
  doc: Doc;
  side: Side;
  trace?: Trace;
  refused?: string;
  onPart: (id: string) => void;
}) {
  const plan = usePlan(doc);
  const inner = useRef<HTMLDivElement>(null);
  useApart(inner, trace);
  return (
    <section aria-label={name} className={classes.side}>
      <p className={trace?.binds.length ? classes.bind : classes.says}>{refused ?? trace?.sentence}</p>
      <div ref={inner} className={classes.inner} style={frameStyle(plan)} data-upright={plan.upright || undefined}>
        {trace && (
          <>
            <Machine doc={doc} trace={trace} onShaft={() => {}} onPart={onPart} />
            <Controls doc={doc} trace={trace} state={side.state} plan={plan} onState={side.onState} onPart={onPart} />
          </>
        )}
      </div>
    </section>
  );
}

type Row = { key: string; name: string; a: string; b: string };

/** How a shaft turns, in one cell. */
const turns = (s: TracedShaft | undefined) =>
  !s ? "–" : s.ratio ? `1 in ${fixed(s.ratio.decimal, 3)}, ${s.direction}` : s.state === "still" ? "still" : s.state;

function Differences({ a, b }: { a: Trace; b: Trace }) {
  const shaft = (t: Trace, id: string) => t.shafts.find((s) => s.id === id);
  const ends: Row[] = a.outputs.map((o) => {
    const p = b.outputs.find((x) => x.part === o.part);
    return {
      key: o.part,
      name: o.name,
      a: `${turns(shaft(a, o.shaft))} · ${o.share_words}`,
      b: p ? `${turns(shaft(b, p.shaft))} · ${p.share_words}` : "–",
    };
  });
  const ended = new Set(a.outputs.map((o) => o.shaft));
  const others = a.shafts.filter((s) => {
    const t = shaft(b, s.id);
    return !ended.has(s.id) && (!t || t.state !== s.state || turns(t) !== turns(s));
  });
  const same = ends.every((r) => r.a === r.b) && others.length === 0;
  return (
    <table className={classes.table}>
      <thead>
        <tr>
          <th scope="col">What</th>
          <th scope="col">One</th>
          <th scope="col">Other</th>
        </tr>
      </thead>
      <tbody>
        {ends.map((r) => (
          <tr key={r.key} className={r.a === r.b ? "" : classes.differs}>
            <th scope="row">{r.name}</th>
            <td>{r.a}</td>
            <td>
              {r.b} {r.a !== r.b && <small>≠ differs</small>}
            </td>
          </tr>
        ))}
        {others.map((s) => {
          const t = shaft(b, s.id);
          return (
            <tr key={s.id} className={classes.differs}>
              <th scope="row">{s.name}</th>
              <td>
                <ShaftState shaft={s} /> {s.state === "driven" && turns(s)}
              </td>
              <td>
                {t && <ShaftState shaft={t} />} {t?.state === "driven" && turns(t)}
              </td>
            </tr>
          );
        })}
        {same && (
          <tr>
            <td colSpan={3}>Both are set alike: move a lever in one of the two.</td>
          </tr>
        )}
      </tbody>
    </table>
  );
}
