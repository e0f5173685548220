import { SegmentedControl } from "@mantine/core";
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import type { PracticeAct, PracticeMachine, PracticeOffer, PracticeRate, PracticeShaft } from "../../api/client";
import metal from "../../drawing/shafts.module.css";
import classes from "./practice.module.css";

/** How far a key turns, and how near a mark counts as brought back, in turns. */
const step = 1 / 36;
const quarter = 0.25;
const near = 0.012;
/** A turn is done when the hand rests so long, in ms. */
const rest = 900;

const short: Record<string, string> = {
  left: "Left wheel",
  right: "Right wheel",
  both: "Both wheels",
  input: "Input",
};

const article: Record<string, string> = {
  left: "the left wheel",
  right: "the right wheel",
  both: "both wheels",
  input: "the input",
};

type Props = { machine: PracticeMachine; offers: PracticeOffer[]; act: (a: PracticeAct) => void };

/**
 * The unit as it is turned by hand: drag a wheel around, roll the mouse wheel over it, or use the arrow keys. Everything
 * that hangs on it goes round with it, after its play. Nobody counts here but the learner.
 */
export function TurnedMachine({ machine, offers, act }: Props) {
  const turns = offers.filter((o) => o.do === "turn");
  const [chosen, setChosen] = useState<string>();
  const on = turns.find((o) => o.on === chosen) ?? turns.find((o) => o.on === "both") ?? turns[0];
  const { moved, grab, drag, let: letGo, key, roll } = useHand(on, act);
  const rates = on?.rates ?? [];
  const at = (s: PracticeShaft) => s.at + follow(rates, s.id, moved);
  const wheels = machine.outputs.length > 1;
  const places = wheels ? [100, 540] : [440];
  const flange = wheels ? 320 : 180;
  const can = (s: PracticeShaft) => on?.on === s.id || (on?.on === "both" && s.id !== "input");
  const disc = (s: PracticeShaft, x: number, r: number, tire: boolean) => (
    <Disc key={s.id} shaft={s} x={x} r={r} tire={tire} turns={at(s)}>
      {can(s) && (
        <circle
          r={r}
          className={classes.grip}
          role="slider"
          tabIndex={0}
          aria-label={`Turn ${article[on?.on ?? ""] ?? "it"}`}
          aria-valuenow={Math.round(360 * moved)}
          aria-valuetext={`turned ${Math.round(360 * moved)} degrees since you took hold`}
          onPointerDown={(e) => grab(e, x)}
          onPointerMove={(e) => drag(e, x)}
          onPointerUp={letGo}
          onPointerCancel={letGo}
          onWheel={roll}
          onKeyDown={key}
          onBlur={letGo}
        />
      )}
    </Disc>
  );
  return (
    <div className={classes.machine} data-turning={moved !== 0 || undefined}>
      {turns.length > 1 && (
        <SegmentedControl
          aria-label="What you turn"
          value={on?.on ?? ""}
          onChange={setChosen}
          data={turns.map((o) => ({ value: o.on ?? "", label: short[o.on ?? ""] ?? o.label }))}
        />
      )}
      {/* biome-ignore lint/a11y/useSemanticElements: a drawing with wheels to turn, no fields */}
      <svg
        viewBox="0 0 640 240"
        role="group"
        aria-label={`The ${wheels ? "axle" : "unit"}, seen from the side of each shaft`}
      >
        <path className={classes.ground} d="M0 193H640" />
        <path
          className={metal.tube}
          d={
            wheels
              ? "M100 100H258L280 72H360L382 100H540V114H382L360 142H280L258 114H100Z"
              : "M180 100H260V60H380V154H260V114H180Z M380 100H440V114H380Z"
          }
        />
        {machine.outputs.map((s, i) => disc(s, places[i] ?? 440, wheels ? 84 : 58, wheels))}
        {disc(machine.input, flange, wheels ? 56 : 66, false)}
        {wheels && machine.chocked && <path className={classes.chock} d="M6 193l16-20h10v20zM634 193l-16-20h-10v20z" />}
        {wheels &&
          machine.outputs.map((s, i) =>
            s.lifted && machine.stands ? (
              <path key={s.id} className={classes.stand} d={`M${i === 0 ? 210 : 430} 116l-12 77h24z`} />
            ) : null,
          )}
      </svg>
      <p className={classes.hint}>
        Drag it around its middle, or tab to it and use the arrow keys; PgUp turns a quarter. Let go, and it rests.
        Count the {wheels ? "flange" : "input"} yourself.
      </p>
    </div>
  );
}

/** How far a shaft has followed what was turned so far. */
function follow(rates: PracticeRate[], shaft: string, moved: number) {
  const r = rates.find((x) => x.shaft === shaft);
  if (!r) return 0;
  const t = r.rate * moved;
  const play = r.play ?? 0;
  return Math.sign(t) * Math.max(0, Math.abs(t) - play);
}

/** A hand at the wheel: how far it has been turned since it was taken hold of; it is done when it is let go or rests. */
function useHand(offer: PracticeOffer | undefined, act: (a: PracticeAct) => void) {
  const [moved, setMoved] = useState(0);
  const last = useRef<{ angle: number } | undefined>(undefined);
  const now = useRef(0);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => () => clearTimeout(timer.current), []);
  const move = (by: number) => {
    now.current = Math.max(-60, Math.min(60, now.current + by));
    setMoved(now.current);
  };
  const done = () => {
    clearTimeout(timer.current);
    last.current = undefined;
    const whole = Math.round(now.current);
    const t = whole !== 0 && Math.abs(now.current - whole) < near ? whole : Math.round(now.current * 1e4) / 1e4;
    now.current = 0;
    setMoved(0);
    if (t !== 0 && offer) act({ do: "turn", on: offer.on, turns: t });
  };
  const soon = () => {
    clearTimeout(timer.current);
    timer.current = setTimeout(done, rest);
  };
  const angle = (e: PointerEvent<SVGElement>, x: number) => {
    const box = e.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (!box) return 0;
    const k = 640 / box.width;
    return Math.atan2((e.clientX - box.x) * k - x, -((e.clientY - box.y) * k - 107)) / (2 * Math.PI);
  };
  return {
    moved,
    grab: (e: PointerEvent<SVGElement>, x: number) => {
      e.currentTarget.setPointerCapture(e.pointerId);
      clearTimeout(timer.current);
      last.current = { angle: angle(e, x) };
    },
    drag: (e: PointerEvent<SVGElement>, x: number) => {
      if (!last.current) return;
      const a = angle(e, x);
      const by = a - last.current.angle;
      last.current.angle = a;
      move(by - Math.round(by));
    },
    let: () => {
      if (last.current || now.current !== 0) done();
    },
    key: (e: KeyboardEvent) => {
      const by = {
        ArrowRight: step,
        ArrowUp: step,
        ArrowLeft: -step,
        ArrowDown: -step,
        PageUp: quarter,
        PageDown: -quarter,
      }[e.key];
      if (by === undefined) return;
      e.preventDefault();
      move(by);
      soon();
    },
    roll: (e: { deltaY: number }) => {
      move(-Math.sign(e.deltaY) * step);
      soon();
    },
  };
}

/** A wheel or flange with its bolts and its chalk mark. */
function Disc({
  shaft,
  x,
  r,
  tire,
  turns,
  children,
}: {
  shaft: PracticeShaft;
  x: number;
  r: number;
  tire: boolean;
  turns: number;
  children: React.ReactNode;
}) {
  return (
    <g transform={`translate(${x} ${shaft.lifted ? 99 : 107})`}>
      {tire && <circle r={r} className={metal.tire} />}
      <circle r={tire ? r * 0.62 : r} className={metal.disc} />
      <path d={`M0 ${-r - 12}v9`} className={classes.pointer} />
      <g transform={`rotate(${(turns * 360) % 360})`} data-shaft={shaft.id}>
        {[0, 72, 144, 216, 288].map((a) => (
          <circle key={a} r={r * 0.055} cx={0} cy={-r * 0.36} transform={`rotate(${a + 36})`} className={metal.bolt} />
        ))}
        {shaft.marked && <path d={`M0 ${-r * 0.12}V${-r * 0.97}`} className={metal.mark} />}
      </g>
      <circle r={r * 0.1} className={metal.hub} />
      {shaft.held && <path d={`M${-r * 0.7} ${r * 0.7}H${r * 0.7}`} className={classes.held} />}
      <text y={tire ? r + 26 : r + 18} textAnchor="middle" className={classes.shaftName}>
        {shaft.name}
        {shaft.held ? ", held" : ""}
      </text>
      {children}
    </g>
  );
}
