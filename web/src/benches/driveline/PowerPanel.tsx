import { Tabs } from "@mantine/core";
import type { Doc, Trace, TracedShaft } from "../../api/client";
import { fixed } from "../../format/numbers";
import { partName } from "../../machine/document";
import { exactText } from "./model";
import "./driveline.css";

type Props = {
  doc: Doc;
  trace: Trace;
  chosen?: string;
  onShaft: (id: string) => void;
  onPart: (id: string) => void;
  /** Goes to a shaft on the machine, to turn or hold it. */
  onHands: (id: string) => void;
};

const stateSigns: Record<TracedShaft["state"], string> = {
  driven: "↻",
  still: "■",
  free: "○",
  bind: "✖",
  unknown: "?",
};
const stateWords: Record<TracedShaft["state"], string> = {
  driven: "driven",
  still: "still",
  free: "free",
  bind: "in a bind",
  unknown: "not known",
};

export function ShaftState({ shaft }: { shaft: TracedShaft }) {
  return (
    <span className={`shaft-state is-${shaft.state}`}>
      <i aria-hidden="true">{stateSigns[shaft.state]}</i> {stateWords[shaft.state]}
    </span>
  );
}

/** What the ends do, every shaft, the way with its product, and what a mechanic would remark. */
export function PowerPanel({ doc, trace, chosen, onShaft, onPart, onHands }: Props) {
  const shaft = (id: string) => trace.shafts.find((s) => s.id === id);
  const way = trace.outputs.find((o) => o.shaft === chosen) ?? trace.outputs.find((o) => o.path.length > 0);
  return (
    <Tabs defaultValue="ends" keepMounted={false} className="power-panel">
      <Tabs.List grow>
        <Tabs.Tab value="ends">Ends</Tabs.Tab>
        <Tabs.Tab value="way">Way</Tabs.Tab>
        <Tabs.Tab value="shafts">Shafts</Tabs.Tab>
      </Tabs.List>
      {chosen && <ShaftCard trace={trace} id={chosen} onHands={onHands} />}
      <Tabs.Panel value="ends">
        {trace.binds.map((b) => (
          <div key={b.words + b.cut} className="bind-card" role="status">
            <b>It binds{b.percent !== undefined ? ` by ${fixed(Math.abs(b.percent), 2)} %` : ""}</b>
            <span>{b.words}.</span>
            <small>
              Loop:{" "}
              {b.loop.map((id) => partName(doc.parts.find((p) => p.id === id) ?? { id, kind: "shaft" })).join(" – ")}
            </small>
          </div>
        ))}
        <ul className="ends">
          {trace.outputs.map((o) => {
            const s = shaft(o.shaft);
            if (!s) return null;
            return (
              <li key={o.shaft} className={chosen === o.shaft ? "is-chosen" : ""}>
                <button type="button" onClick={() => onShaft(o.shaft)}>
                  <span className="grow">
                    <b>{o.name}</b>
                    <small>
                      {s.state === "free" || s.state === "unknown" ? <ShaftState shaft={s} /> : s.direction}
                      {" · "}
                      {o.share_words}
                    </small>
                  </span>
                  <Speed shaft={s} />
                </button>
              </li>
            );
          })}
        </ul>
        <Remarks doc={doc} trace={trace} onPart={onPart} />
      </Tabs.Panel>
      <Tabs.Panel value="way">
        {way ? (
          <>
            <p className="dim">
              From the {shaft(trace.input)?.name} to the {way.name.toLowerCase()}; choose another end or shaft in the
              drawing.
            </p>
            <ol className="way">
              {way.path.map((st) => (
                <li key={st.element}>
                  <button type="button" onClick={() => onShaft(st.shaft)}>
                    <span className="grow">
                      {st.words}
                      {st.note && <small> {st.note}</small>}
                      {st.source && (
                        <SourceMark kind={st.source.kind} text={st.source.text} probability={st.source.probability} />
                      )}
                    </span>
                    <span className="num">
                      {st.ratio && exactText(st.ratio) !== "1" ? `× ${exactText(st.ratio)}` : ""}
                      {st.product && <small>= {fixed(Math.abs(st.product.decimal), 3)}</small>}
                    </span>
                  </button>
                </li>
              ))}
            </ol>
            {trace.overall && (
              <p>
                <b>{exactText(trace.overall.ratio)}</b> = {fixed(trace.overall.ratio.decimal, 4)}: {trace.overall.words}
                .
              </p>
            )}
          </>
        ) : (
          <p className="dim">No power from here: a lever is in neutral, a clutch is open, or a shaft is broken.</p>
        )}
      </Tabs.Panel>
      <Tabs.Panel value="shafts">
        <ShaftTable trace={trace} chosen={chosen} onShaft={onShaft} />
      </Tabs.Panel>
    </Tabs>
  );
}

function Speed({ shaft: s }: { shaft: TracedShaft }) {
  if (s.state === "still") return <span className="num">0</span>;
  if (s.turns) return <span className="num">{fixed(Math.abs(s.turns.decimal), 3)} turns</span>;
  if (s.rpm !== undefined) return <span className="num">{fixed(Math.abs(s.rpm), 0)} rpm</span>;
  if (s.ratio) return <span className="num">1 in {fixed(Math.abs(s.ratio.decimal), 3)}</span>;
  return <span className="num">–</span>;
}

export function SourceMark({ kind, text, probability }: { kind: string; text?: string; probability?: number }) {
  const sure = probability ? ` ${fixed(Math.floor(probability * 1000) / 10, 1)} %` : "";
  return (
    <span className={`source is-${kind}`} title={text}>
      {kind === "conflict" ? "in conflict" : kind === "unknown" ? "not known" : kind}
      {sure}
    </span>
  );
}

function ShaftTable({ trace, chosen, onShaft }: { trace: Trace; chosen?: string; onShaft: (id: string) => void }) {
  return (
    <div className="scroll tall">
      <table className="shafts">
        <thead>
          <tr>
            <th>Shaft</th>
            <th>Per input turn</th>
            <th>Torque ×</th>
          </tr>
        </thead>
        <tbody>
          {trace.shafts.map((x) => (
            <tr key={x.id} className={x.id === chosen ? "is-chosen" : ""}>
              <td>
                <button type="button" onClick={() => onShaft(x.id)}>
                  {x.name}
                </button>
                <small>
                  <ShaftState shaft={x} />
                </small>
              </td>
              <td className="num">{x.speed ? exactText(x.speed) : "–"}</td>
              <td className="num">{x.torque ? fixed(x.torque.decimal, 2) : (x.torque_words ?? "–")}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** What the chosen shaft does. */
function ShaftCard({ trace, id, onHands }: { trace: Trace; id: string; onHands: (id: string) => void }) {
  const s = trace.shafts.find((x) => x.id === id);
  if (!s) return null;
  return (
    <div className="shaft-card">
      <b>{s.name}</b>
      <span>
        <ShaftState shaft={s} />, {s.direction}
      </span>
      <span>
        {s.speed ? `${exactText(s.speed)} turn per input turn` : "speed not determined"}
        {s.rpm !== undefined && ` · ${fixed(Math.abs(s.rpm), 1)} rpm`}
        {s.turns && ` · ${exactText(s.turns)} turns`}
      </span>
      <span>
        Torque: {s.torque ? `${exactText(s.torque)} × the input's (${fixed(s.torque.decimal, 3)})` : s.torque_words}
      </span>
      {s.why && <small>{s.why}</small>}
      <button type="button" className="linklike" onClick={() => onHands(id)}>
        Turn or hold this shaft on the machine
      </button>
    </div>
  );
}

const noteSigns = { wrong: "≠", caution: "!", fact: "i" } as const;

function Remarks({ doc, trace, onPart }: { doc: Doc; trace: Trace; onPart: (id: string) => void }) {
  const matches = trace.match ? [trace.match, ...(trace.match.others ?? [])] : [];
  const order = { wrong: 0, caution: 1, fact: 2 };
  const notes = [...trace.notes].sort((a, b) => order[a.kind] - order[b.kind]);
  return (
    <div className="remarks">
      {trace.unknown.length > 0 && (
        <div className="remark is-fact">
          <i aria-hidden="true">?</i>
          <span>
            Not known yet:{" "}
            {trace.unknown.map((u, i) => (
              <span key={u.part + u.ratio}>
                {i > 0 && ", "}
                <button type="button" className="linklike" onClick={() => onPart(u.part)}>
                  {u.words}
                </button>
              </span>
            ))}
            . What hangs on it says so; the rest is exact.
          </span>
        </div>
      )}
      {notes.map((n) => (
        <div key={n.text} className={`remark is-${n.kind}`}>
          <i aria-hidden="true">{noteSigns[n.kind]}</i>
          <span>{n.text}</span>
        </div>
      ))}
      {trace.corner && (
        <div className="remark is-fact">
          <i aria-hidden="true">↶</i>
          <span>
            Corner: paths{" "}
            {trace.corner.wheels
              .map(
                (w) =>
                  `${partName(doc.parts.find((p) => p.id === w.part) ?? { id: w.part, kind: "wheel" }).toLowerCase()} ${fixed(w.radius_m, 2)} m`,
              )
              .join(", ")}
            . Locked front to rear, tires slip <b>{fixed(Math.abs(trace.corner.slip_m_per_circle), 2)} m</b> per full
            circle.
            {trace.corner.spiders
              .filter((s) => s.against.num !== 0)
              .map(
                (s) =>
                  ` Spider gears of the ${partName(doc.parts.find((p) => p.id === s.part) ?? { id: s.part, kind: "axle" }).toLowerCase()} work at ${fixed(Math.abs(s.against.decimal) * 100, 1)} % of the carrier${s.rpm ? `, ${fixed(s.rpm, 0)} rpm` : ""}.`,
              )
              .join("")}
            {trace.corner.assumed_sizes && " Track and wheelbase are assumed. Enter this unit's own under Build."}
          </span>
        </div>
      )}
      {matches.map((m) => (
        <div
          key={m.part}
          className={`remark is-${m.level === "wrong" ? "wrong" : m.level === "caution" ? "caution" : "fact"}`}
        >
          <i aria-hidden="true">{m.level === "match" ? "=" : "⇄"}</i>
          <span>
            {m.verdict} {m.level !== "match" && m.do}
            <small>{m.formula}</small>
          </span>
        </div>
      ))}
      {trace.weak_link && (
        <div className={`remark is-${trace.weak_link.used > 1 ? "wrong" : "fact"}`}>
          <i aria-hidden="true">{trace.weak_link.used > 1 ? "≠" : "i"}</i>
          <span>
            Closest to its rating:{" "}
            {partName(doc.parts.find((p) => p.id === trace.weak_link?.part) ?? { id: "", kind: "shaft" })},{" "}
            {fixed(trace.weak_link.used * 100, 0)} %<small>{trace.weak_link.formula}</small>
          </span>
        </div>
      )}
    </div>
  );
}
