import { useMemo, useRef } from "react";
import type { Doc, Trace, TracedMesh, TracedShaft } from "../api/client";
import { placeParts } from "./place";
import type { Disc, Jump, Plan, Rod } from "./plan";
import { useSpin } from "./spin";
import { upright, useStanding } from "./upright";
import "./machine.css";

type Props = {
  doc: Doc;
  trace: Trace;
  chosen?: string;
  chosenPart?: string;
  /** A part of the drawing alone: x, y, width, height. */
  view?: [number, number, number, number];
  /** Drawn small, it lies as it does on a wide screen. */
  small?: boolean;
  onShaft: (id: string) => void;
  onPart: (id: string) => void;
};

const inBind = (t: Trace, id: string) => t.binds.some((b) => b.shafts.includes(id));

/** How thick the power line is: by the part of the input's power that passes. */
const thick = (power: number) => (power > 0.001 ? 4 + 18 * Math.sqrt(power) : 0);

/** Where everything lies. A vehicle stands upright on a phone, unless it is drawn small. */
export function usePlan(doc: Doc, small = false): Plan {
  const standing = useStanding() && !small && doc.lies === "vehicle";
  return useMemo(() => {
    const plan = placeParts(doc);
    return standing ? upright(plan) : plan;
  }, [doc, standing]);
}

/** The unit as it lies, turning at true relative speed; the power line in brass. */
export function Machine({ doc, trace, chosen, chosenPart, view, small, onShaft, onPart }: Props) {
  const plan = usePlan(doc, small);
  const shafts = new Map(trace.shafts.map((s) => [s.id, s]));
  const meshes = new Map(trace.meshes.map((m) => [m.id, m]));
  return (
    <svg
      viewBox={view?.join(" ") ?? `0 0 ${plan.w} ${plan.h}`}
      className="machine"
      role="img"
      aria-label={trace.sentence}
    >
      <defs>
        <pattern id="bind-hatch" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V8" className="bind-line" />
        </pattern>
      </defs>
      <Idle plan={plan} />
      {plan.boxes.map((b, i) => (
        // biome-ignore lint/a11y/noStaticElementInteractions: the list beside the drawing does the same by keyboard
        <rect
          // biome-ignore lint/suspicious/noArrayIndexKey: boxes have no names and keep their order
          key={i}
          x={b.x}
          y={b.y}
          width={b.w}
          height={b.h}
          rx={b.round ?? 1}
          className={b.part === chosenPart ? "housing is-chosen" : "housing"}
          onClick={() => onPart(b.part)}
        />
      ))}
      <Power plan={plan} trace={trace} />
      {plan.belts.map((b) => (
        <BeltView key={b.mesh} belt={b} drawn={shafts.get(meshes.get(b.mesh)?.shafts[0] ?? "")?.drawn ?? 0} />
      ))}
      {plan.rods.map((r) => (
        <RodView key={rodKey(r)} rod={r} shaft={shafts.get(r.shaft)} chosen={chosen === r.shaft} onShaft={onShaft} />
      ))}
      {plan.discs.map((c) => (
        <DiscView
          key={`${c.shaft} ${c.x} ${c.y}`}
          disc={c}
          shaft={shafts.get(c.shaft)}
          mesh={c.mesh ? meshes.get(c.mesh) : undefined}
          slid={c.slide?.find((s) => meshes.has(s.mesh) && !meshes.get(s.mesh)?.open)?.by ?? 0}
          bind={inBind(trace, c.shaft)}
          chosen={chosen === c.shaft}
          onShaft={onShaft}
        />
      ))}
      <Rolls doc={doc} trace={trace} plan={plan} />
    </svg>
  );
}

/** Wheels that nothing drives, on their axle. */
function Idle({ plan }: { plan: Plan }) {
  return (
    <>
      {plan.idle.map((w) => (
        <g key={`${w.x} ${w.y}`} className="idle">
          {plan.upright ? (
            <rect x={w.x - 19} y={w.y - 46} width={38} height={92} rx={9} />
          ) : (
            <rect x={w.x - 46} y={w.y - 19} width={92} height={38} rx={9} />
          )}
        </g>
      ))}
      {plan.idle.length === 2 && (
        <path
          className="idle"
          d={
            plan.upright
              ? `M${(plan.idle[0]?.x ?? 0) - 19} ${plan.idle[0]?.y}H${(plan.idle[1]?.x ?? 0) + 19}`
              : `M${plan.idle[0]?.x} ${(plan.idle[0]?.y ?? 0) + 19}V${(plan.idle[1]?.y ?? 0) - 19}`
          }
        />
      )}
    </>
  );
}

/** Where power goes: the wider, the more of it. */
function Power({ plan, trace }: { plan: Plan; trace: Trace }) {
  const power = (id: string) => trace.shafts.find((s) => s.id === id)?.power ?? 0;
  const meshes = new Map(trace.meshes.map((m) => [m.id, m]));
  return (
    <g className="power">
      {plan.rods.map((r) => {
        const w = thick(power(r.shaft));
        return w > 0 ? <path key={rodKey(r)} d={`M${r.x1} ${r.y1}L${r.x2} ${r.y2}`} strokeWidth={w} /> : null;
      })}
      {plan.jumps.map((j) => {
        const m = meshes.get(j.mesh);
        const w = m && !m.open ? thick(m.power) : 0;
        return w > 0 ? (
          <path
            key={`${j.mesh} ${j.x1} ${j.y1} ${j.x2} ${j.y2}`}
            d={`M${j.x1} ${j.y1}L${j.x2} ${j.y2}`}
            strokeWidth={w}
          />
        ) : null;
      })}
    </g>
  );
}

/** Beside each wheel, which way it rolls. */
function Rolls({ doc, trace, plan }: { doc: Doc; trace: Trace; plan: Plan }) {
  return (
    <>
      {plan.spots.map((s) => {
        const p = doc.parts.find((q) => q.id === s.part);
        if (p?.kind !== "wheel") return null;
        const o = trace.outputs.find((x) => x.part === p.id);
        const w = trace.shafts.find((x) => x.id === o?.shaft);
        if (!w || w.sign === 0) return null;
        const d = w.sign > 0 ? -1 : 1; // forward is to the left, or up
        const tire = plan.discs.find((c) => c.look === "wheel" && c.shaft === o?.shaft);
        const y = s.y + (s.side === "below" ? -21 : 21);
        return (
          <path
            key={s.part}
            d={
              plan.upright
                ? `M${tire?.x ?? s.x} ${(tire?.y ?? s.y) + d * 52}v${d * 16}l-8 ${-d * 9}m8 ${d * 9}l8 ${-d * 9}`
                : `M${s.x + d * 52} ${y}h${d * 16}l${-d * 9} -8m${d * 9} 8l${-d * 9} 8`
            }
            className="rolls"
          >
            <title>{w.direction}</title>
          </path>
        );
      })}
    </>
  );
}

/** A chain seen on its edge: its two runs go opposite ways. */
function BeltView({ belt: b, drawn }: { belt: Jump; drawn: number }) {
  const run = useRef<SVGPathElement>(null);
  const back = useRef<SVGPathElement>(null);
  useSpin((turns) => {
    const by = turns * drawn * 120;
    run.current?.setAttribute("stroke-dashoffset", String(-by % 10));
    back.current?.setAttribute("stroke-dashoffset", String(by % 10));
  });
  return (
    <g className="belt">
      <path ref={run} d={b.x1 === b.x2 ? `M${b.x1 - 5} ${b.y1}V${b.y2}` : `M${b.x1} ${b.y1 - 5}H${b.x2}`} />
      <path ref={back} d={b.x1 === b.x2 ? `M${b.x1 + 5} ${b.y1}V${b.y2}` : `M${b.x1} ${b.y1 + 5}H${b.x2}`} />
    </g>
  );
}

const rodKey = (r: Rod) => `${r.shaft} ${r.x1} ${r.y1} ${r.x2} ${r.y2}`;

function RodView({
  rod,
  shaft,
  chosen,
  onShaft,
}: {
  rod: Rod;
  shaft?: TracedShaft;
  chosen: boolean;
  onShaft: (id: string) => void;
}) {
  const chalk = useRef<SVGPathElement>(null);
  const drawn = shaft?.drawn ?? 0;
  const across = rod.y1 === rod.y2;
  useSpin((turns) => {
    const el = chalk.current;
    if (!el) return;
    const a = turns * drawn * (rod.turned ? -2 : 2) * Math.PI + 0.6;
    if (Math.cos(a) <= 0.05) {
      el.setAttribute("d", "");
      return;
    }
    const k = 4.5 * Math.sin(a);
    el.setAttribute("d", across ? `M${rod.x1} ${rod.y1 + k}H${rod.x2}` : `M${rod.x1 - k} ${rod.y1}V${rod.y2}`);
  });
  const d = `M${rod.x1} ${rod.y1}L${rod.x2} ${rod.y2}`;
  const state = shaft?.state ?? "unknown";
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the table beside the drawing does the same by keyboard
    <g className={`rod is-${state}${chosen ? " is-chosen" : ""}`} onClick={() => onShaft(rod.shaft)}>
      <path d={d} className="rod-edge" />
      <path d={d} className="rod-body" />
      <path ref={chalk} className="rod-chalk" />
      <title>{shaft ? `${shaft.name}: ${shaft.direction}` : rod.shaft}</title>
    </g>
  );
}

function DiscView({
  disc,
  shaft,
  mesh,
  slid,
  bind,
  chosen,
  onShaft,
}: {
  disc: Disc;
  shaft?: TracedShaft;
  mesh?: TracedMesh;
  /** How far it stands along its shaft from where it rests. */
  slid: number;
  bind: boolean;
  chosen: boolean;
  onShaft: (id: string) => void;
}) {
  const lines = useRef<SVGPathElement>(null);
  const chalk = useRef<SVGPathElement>(null);
  const drawn = shaft?.drawn ?? 0;
  const { x, y, r, half, along, look } = disc;
  // Few enough teeth to be seen as teeth; the ratio of speeds stays true.
  const n = disc.teeth === 0 ? (look === "prop" ? 3 : 0) : Math.max(8, Math.min(disc.teeth, 30));
  // A bevel gear's teeth run from its big end toward the point of its cone.
  const low = disc.cone === -1 ? r * taper : r;
  const high = disc.cone === 1 ? r * taper : r;
  const lay = (a: number) =>
    along === "x"
      ? `M${x - half} ${y + low * Math.sin(a)}L${x + half} ${y + high * Math.sin(a)}`
      : `M${x - low * Math.sin(a)} ${y - half}L${x - high * Math.sin(a)} ${y + half}`;
  useSpin((turns) => {
    const base = turns * drawn * (disc.turned ? -2 : 2) * Math.PI;
    if (lines.current && n > 0 && look !== "prop") {
      let d = "";
      for (let i = 0; i < n; i++) {
        const a = base + (i * 2 * Math.PI) / n;
        if (Math.cos(a) > 0.08) d += lay(a);
      }
      lines.current.setAttribute("d", d);
    }
    if (lines.current && look === "prop") {
      // Three blades, seen edge-on: each as long as it points across the view.
      let d = "";
      for (let i = 0; i < 3; i++) {
        const a = base + (i * 2 * Math.PI) / 3;
        const tip = y + r * Math.sin(a);
        const lean = 9 * Math.cos(a);
        d += `M${x - 4} ${y}Q${x - 10 + lean} ${(y + tip) / 2} ${x + lean} ${tip}Q${x + 12 + lean} ${(y + tip) / 2} ${x + 5} ${y}Z`;
      }
      lines.current.setAttribute("d", d);
    }
    if (chalk.current) {
      const a = base + 0.6;
      chalk.current.setAttribute("d", Math.cos(a) > 0.05 && look !== "prop" ? lay(a) : "");
    }
  });
  const state = shaft?.state ?? "unknown";
  const box =
    along === "x"
      ? { x: x - half, y: y - r, width: half * 2, height: r * 2 }
      : { x: x - r, y: y - half, width: r * 2, height: half * 2 };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the table beside the drawing does the same by keyboard
    <g
      className={`disc look-${look} is-${state}${chosen ? " is-chosen" : ""}${mesh?.open ? " is-open" : ""}`}
      style={disc.slide && { transform: along === "x" ? `translateX(${slid}px)` : `translateY(${slid}px)` }}
      onClick={() => onShaft(disc.shaft)}
    >
      {look === "prop" ? (
        <>
          <path ref={lines} className="disc-body" />
          <circle cx={x} cy={y} r={9} className="disc-body" />
        </>
      ) : (
        <>
          {disc.cone ? (
            <path d={cone(x, y, half, low, high, along)} className="disc-body" />
          ) : (
            <rect {...box} rx={look === "wheel" ? 9 : 2} className="disc-body" />
          )}
          {disc.cone && <path d={pitchLines(x, y, half, low, high, along)} className="disc-pitch" />}
          {bind && <rect {...box} rx={look === "wheel" ? 9 : 2} fill="url(#bind-hatch)" />}
          {n > 0 && <path ref={lines} className="disc-teeth" />}
          <path ref={chalk} className="disc-chalk" />
        </>
      )}
      <title>{shaft ? `${shaft.name}: ${shaft.direction}` : disc.shaft}</title>
    </g>
  );
}

/** A bevel gear's small end, as a part of its big one. */
const taper = 0.64;

type Corners = [x: number, y: number, half: number, low: number, high: number, along: Disc["along"]];

/** The outline of a bevel gear seen from its side. */
function cone(...[x, y, half, low, high, along]: Corners): string {
  return along === "x"
    ? `M${x - half} ${y - low}L${x + half} ${y - high}V${y + high}L${x - half} ${y + low}Z`
    : `M${x - low} ${y - half}L${x - high} ${y + half}H${x + high}L${x + low} ${y - half}Z`;
}

/** Its pitch cone, drawn on to the point where the axes meet. */
function pitchLines(...[x, y, half, low, high, along]: Corners): string {
  const up = low > high ? 1 : -1;
  const [big, small] = low > high ? [low, high] : [high, low];
  const reach = (2 * half * big) / (big - small);
  if (along === "x") {
    const from = x - up * half;
    return `M${from} ${y - big * 0.92}L${from + up * reach} ${y}L${from} ${y + big * 0.92}`;
  }
  const from = y - up * half;
  return `M${x - big * 0.92} ${from}L${x} ${from + up * reach}L${x + big * 0.92} ${from}`;
}
