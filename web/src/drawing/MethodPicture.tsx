import type { ReactNode } from "react";
import type { Kind, Method } from "../api/client";
import { Gear } from "./gear";
import "./drawing.css";

const note = (x: number, y: number, text: string, anchor: "start" | "middle" | "end" = "start") => (
  <text x={x} y={y} textAnchor={anchor}>
    {text}
  </text>
);

const turnArrow = (x: number, y: number, r: number) => (
  <path d={`M${x - r} ${y}A${r} ${r} 0 1 1 ${x} ${y + r}m0 0l7 -5m-7 5l7 6`} className="arrow" />
);

const tag = (
  <>
    <path d="M40 14h150v92H40z" className="metal" />
    <circle cx={60} cy={30} r={7} className="bore" />
    <circle cx={170} cy={30} r={7} className="bore" />
    <circle cx={60} cy={92} r={7} className="bore" />
    <circle cx={170} cy={92} r={7} className="bore" />
    <path d="M162 84l70 -6v26l-66 6z" className="paper" />
    <text x={196} y={97} className="stamped">
      4.10
    </text>
    {note(246, 40, "cover, seen from behind")}
    {note(246, 96, "tag under one cover bolt")}
  </>
);

const stamp = (
  <>
    <Gear x={95} y={60} r={52} n={41} hub={20} />
    <text x={95} y={30} textAnchor="middle" className="stamped">
      47 9
    </text>
    <path d="M210 44l44 8v16l-44 8z" className="metal" />
    <path d="M254 56h40v8h-40z" className="metal" />
    <text x={219} y={65} className="stamped">
      47-9
    </text>
    {note(180, 22, "on the ring's edge …")}
    {note(180, 104, "… or on the back of the pinion")}
  </>
);

const teeth = (
  <>
    <Gear x={80} y={60} r={52} n={41} hub={18} marked />
    {note(150, 22, "start tooth: chalk it, call it zero")}
    <path d="M146 18H86" className="lead" />
    {[10, 20, 30, 40].map((n) => {
      const a = (n / 41) * 2 * Math.PI - Math.PI / 2;
      return (
        <g key={n}>
          <circle cx={80 + 44 * Math.cos(a)} cy={60 + 44 * Math.sin(a)} r={3.5} className="dot" />
          <text x={80 + 30 * Math.cos(a)} y={64 + 30 * Math.sin(a)} textAnchor="middle" className="small">
            {n}
          </text>
        </g>
      );
    })}
    <Gear x={210} y={74} r={26} n={10} hub={8} marked />
    {note(246, 70, "the pinion the same way")}
    {note(246, 90, "a dot at every tenth tooth")}
  </>
);

const turns = (
  <>
    <path d="M70 60H180" className="shaft" />
    <path d="M180 60V18M180 60V102" className="shaft" />
    <circle cx={180} cy={60} r={22} className="metal" />
    <path d="M162 4h36v18h-36zM162 98h36v18h-36z" className="tire" />
    <path d="M198 10h8M198 110h8" className="chalk" />
    <path d="M60 44h14v32H60z" className="metal" />
    <path d="M67 44v-8" className="chalk" />
    {turnArrow(40, 60, 16)}
    {note(216, 16, "chalk tire and fender: 1 turn …")}
    {note(216, 112, "… the other wheel too, or held")}
    {note(12, 104, "chalk the flange,")}
    {note(12, 118, "count its turns")}
  </>
);

const bench = (
  <>
    <path d="M96 24h110v72H96z" className="metal" />
    <path d="M20 60H96M206 60H290" className="shaft" />
    <circle cx={34} cy={60} r={18} className="metal" />
    <path d="M34 46V42" className="chalk" />
    <circle cx={276} cy={60} r={18} className="metal" />
    <path d="M276 46V42" className="chalk" />
    {turnArrow(276, 60, 28)}
    {note(34, 104, "input: count", "middle")}
    {note(276, 112, "output: turn", "middle")}
  </>
);

const gearcaseBench = (
  <>
    <path d="M110 4h40v60l60 10v24H96V70z" className="metal" />
    <path d="M130 -4V62M210 84H280" className="shaft" />
    <circle cx={280} cy={84} r={6} className="metal" />
    {turnArrow(280, 84, 22)}
    {note(160, 18, "count the drive shaft,")}
    {note(160, 38, "turned the engine's way only")}
    {note(110, 118, "propeller off: mark its shaft, turn")}
  </>
);

const gearboxBench = (
  <>
    <path d="M90 16h60v12h80v-12h10v80H90z" className="metal" />
    <path d="M30 62H90M240 62H300" className="shaft" />
    <path d="M170 28V6M162 6h16" className="shaft thin" />
    <circle cx={40} cy={62} r={16} className="metal" />
    <path d="M40 50V46" className="chalk" />
    <path d="M296 42h12v40h-12z" className="metal" />
    <path d="M302 42v-6" className="chalk" />
    {turnArrow(40, 62, 26)}
    {note(186, 12, "in the gear that is asked")}
    {note(2, 118, "input: turn and count")}
    {note(252, 104, "output: watch its mark")}
  </>
);

const caseBench = (
  <>
    <path d="M170 8h84v44h36v62h-84V66h-36z" className="metal" />
    <path d="M110 32H170M254 32H330M140 92H206" className="shaft" />
    <circle cx={116} cy={32} r={15} className="metal" />
    <path d="M116 22V18" className="chalk" />
    <path d="M322 14h12v36h-12z" className="metal" />
    <path d="M328 14v-6" className="chalk" />
    <path d="M128 78h12v28h-12z" className="metal" />
    {turnArrow(116, 32, 24)}
    {note(2, 28, "input: turn")}
    {note(2, 46, "and count")}
    {note(342, 28, "rear output:")}
    {note(342, 46, "watch its mark")}
    {note(2, 88, "front output,")}
    {note(2, 106, "engaged with it")}
  </>
);

const hubBench = (
  <>
    <path d="M150 6h52v110h-52z" className="tire" />
    <path d="M160 30h70v62h-70z" className="metal" />
    <path d="M40 44H160" className="shaft" />
    <path d="M230 76H262" className="shaft" />
    <path d="M256 56h14v40h-14z" className="metal" />
    <path d="M263 56v-6M70 38v-8" className="chalk" />
    {turnArrow(276, 76, 22)}
    {note(20, 78, "half shaft: count it")}
    {note(284, 116, "hub: turn it")}
  </>
);

/** Turned on the bench, by what it is. */
const benches: Partial<Record<Kind, ReactNode>> = {
  gearcase: gearcaseBench,
  gearbox: gearboxBench,
  transfer_case: caseBench,
  hub: hubBench,
};

const road = (
  <>
    <path d="M10 96H390" className="shaft thin" />
    <circle cx={90} cy={66} r={30} className="tire" />
    <circle cx={90} cy={66} r={14} className="metal" />
    <path d="M200 80a44 44 0 0 1 88 0" className="dial" />
    <path d="M244 80l20 -30" className="chalk" />
    {note(244, 28, "engine speed, steady", "middle")}
    {note(90, 24, "true speed, known tire", "middle")}
    {note(300, 80, "converter locked")}
  </>
);

const pictures: Record<Method, ReactNode> = { tag, stamp, teeth, turns, bench, road };

/** Where to mark and what to turn. */
export function MethodPicture({ method, kind }: { method: Method; kind: Kind }) {
  return (
    <svg viewBox="0 0 440 122" className="method-picture" aria-hidden="true">
      {(method === "bench" && benches[kind]) || pictures[method]}
    </svg>
  );
}
