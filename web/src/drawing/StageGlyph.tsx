import type { ReactNode } from "react";
import type { Kind } from "../api/client";
import { Gear, InnerRing } from "./gear";

const shaft = (d: string) => <path d={d} className="shaft" />;

/** What each kind of stage looks like, on a field of 120 by 80; power enters at the left. */
const pictures: Record<Kind, ReactNode> = {
  ring_and_pinion: (
    <>
      {shaft("M0 40H44")}
      {shaft("M78 2V78")}
      <path d="M40 31l18 5v8l-18 5z" className="metal" />
      <Gear x={78} y={40} r={27} n={22} hub={7} />
    </>
  ),
  transfer_case: (
    <>
      {shaft("M0 26H120")}
      {shaft("M52 60H120")}
      <path d="M58 16h16v56H58z" className="belt" />
      <Gear x={66} y={26} r={15} n={14} hub={4} />
      <Gear x={66} y={60} r={15} n={14} hub={4} />
    </>
  ),
  gearbox: (
    <>
      {shaft("M0 24H120")}
      {shaft("M18 54H104")}
      {[
        [28, 12],
        [52, 18],
        [76, 15],
        [98, 10],
      ].map(([x, a]) => (
        <g key={x}>
          <rect x={x - 6} y={24 - a} width={12} height={a * 2} className="metal" />
          <rect x={x - 6} y={25 + a} width={12} height={(29 - a) * 2} className="metal" />
        </g>
      ))}
    </>
  ),
  planetary: (
    <>
      {shaft("M0 40H30")}
      {shaft("M90 40H120")}
      <InnerRing x={60} y={40} r={30} n={36} />
      <Gear x={60} y={40} r={12} n={11} hub={3.5} />
      <Gear x={60} y={20} r={9} n={9} hub={2.5} />
      <Gear x={77} y={50} r={9} n={9} hub={2.5} />
      <Gear x={43} y={50} r={9} n={9} hub={2.5} />
    </>
  ),
  two_stage: (
    <>
      {shaft("M0 40H28")}
      {shaft("M50 4V76")}
      {shaft("M50 40H96")}
      <path d="M20 33l14 4v6l-14 4z" className="metal" />
      <Gear x={50} y={40} r={20} n={17} hub={5} />
      <InnerRing x={94} y={40} r={19} n={26} />
      <Gear x={94} y={40} r={8} n={9} hub={2.5} />
      <Gear x={94} y={27.5} r={5.5} n={7} hub={1.5} />
      <Gear x={105} y={46} r={5.5} n={7} hub={1.5} />
      <Gear x={83} y={46} r={5.5} n={7} hub={1.5} />
    </>
  ),
  hub: (
    <>
      {shaft("M0 40H66")}
      <rect x={66} y={4} width={26} height={72} rx={7} className="tire" />
      <rect x={70} y={20} width={30} height={40} className="metal" />
      <Gear x={85} y={40} r={8} n={9} hub={2.5} />
      <Gear x={85} y={26.5} r={5.5} n={7} hub={1.5} />
      <Gear x={85} y={53.5} r={5.5} n={7} hub={1.5} />
    </>
  ),
  gearcase: (
    <>
      {shaft("M50 0V50")}
      {shaft("M50 54H100")}
      <path d="M43 42l4-14h6l4 14z" className="metal" />
      <path d="M60 36l8-3v42l-8-3z" className="metal" />
      <path d="M40 36l-8-3v42l8-3z" className="metal" />
      <path d="M100 54c2-16 12-22 13-12 1 8-6 12-13 12zc2 16 12 22 13 12 1-8-6-12-13-12z" className="metal" />
    </>
  ),
  gear_pair: (
    <>
      {shaft("M0 40H34")}
      {shaft("M84 40H120")}
      <Gear x={34} y={40} r={17} n={13} hub={5} />
      <Gear x={82} y={40} r={29} n={22} hub={7} />
    </>
  ),
  chain_pair: (
    <>
      <path d="M34 24L88 12M34 56L88 68" className="belt" />
      <Gear x={34} y={40} r={16} n={13} hub={5} />
      <Gear x={88} y={40} r={28} n={22} hub={7} />
    </>
  ),
};

export function StageGlyph({ kind, width = 120 }: { kind: Kind; width?: number }) {
  return (
    <svg viewBox="0 0 120 80" width={width} height={(width * 2) / 3} className="glyph" aria-hidden="true">
      {pictures[kind]}
    </svg>
  );
}
