import type { ReactNode } from "react";
import { Gear, InnerRing } from "../drawing/gear";

/** A term of the trade: what it is, what else it is called, and how it looks on a field of 120 by 80. */
export type Term = { term: string; also?: string; means: string; picture: ReactNode };

const line = (d: string) => <path d={d} className="line" />;
const shaft = (d: string) => <path d={d} className="shaft" />;
const chalk = (d: string) => <path d={d} className="chalk" />;

const set = (
  <>
    {shaft("M0 40h40")}
    <path d="M36 30l20 5v10l-20 5z" className="metal" />
    <Gear x={80} y={40} r={30} n={24} hub={8} />
  </>
);

const pair = (a: number, b: number) => (
  <>
    <Gear x={36} y={40} r={a} n={Math.round(a * 0.8)} hub={5} />
    <Gear x={36 + a + b - 3} y={40} r={b} n={Math.round(b * 0.8)} hub={5} />
  </>
);

const axle = (inside: ReactNode) => (
  <>
    <rect x={2} y={14} width={18} height={52} rx={5} className="tire" />
    <rect x={100} y={14} width={18} height={52} rx={5} className="tire" />
    {shaft("M20 40h26M74 40h26")}
    <rect x={44} y={24} width={32} height={32} rx={10} className="case" />
    {inside}
  </>
);

const tooth = (spot: ReactNode) => (
  <>
    <path d="M12 62L30 20H96L110 62z" className="case" />
    {spot}
  </>
);

const spot = (x: number, y: number) => <ellipse cx={x} cy={y} rx={15} ry={9} className="dot" />;

/** The words of the trade by where they are met, each with both schools' names where there are two. */
export const chapters: { name: string; terms: Term[] }[] = [
  {
    name: "Gears and ratios",
    terms: [
      {
        term: "Gear ratio",
        means:
          "Turns in for one turn out: driven teeth divided by driving teeth. 41 ring teeth on 10 pinion teeth is 4.10.",
        picture: pair(16, 28),
      },
      {
        term: "Numerically higher",
        also: "shorter, lower gear",
        means: "A larger number, like 4.56 against 4.10: more pull, more rpm at the same speed.",
        picture: pair(12, 32),
      },
      {
        term: "Numerically lower",
        also: "taller, higher gear",
        means: "A smaller number, like 3.55 against 4.10: less pull, fewer rpm at the same speed.",
        picture: pair(20, 24),
      },
      {
        term: "Ring and pinion",
        also: "final drive, crown wheel and pinion",
        means: "The bevel gears in an axle: the pinion turns the ring gear, and the drive goes around the corner.",
        picture: set,
      },
      {
        term: "Planetary set",
        also: "epicyclic gears",
        means:
          "A sun gear inside, planet gears around it, a ring gear outside. Hold one, drive one, take off the third.",
        picture: (
          <>
            <InnerRing x={60} y={40} r={31} n={36} />
            <Gear x={60} y={40} r={12} n={11} hub={3.5} />
            <Gear x={60} y={19} r={9} n={9} hub={2.5} />
            <Gear x={78} y={51} r={9} n={9} hub={2.5} />
            <Gear x={42} y={51} r={9} n={9} hub={2.5} />
          </>
        ),
      },
      {
        term: "Re-gear",
        means: "Fit another ring and pinion, usually after a tire change. Front and rear must match.",
        picture: (
          <>
            {set}
            {chalk("M66 8a34 34 0 0 1 40 10m0-10v10h-10")}
          </>
        ),
      },
    ],
  },
  {
    name: "Driveline and axle",
    terms: [
      {
        term: "Driveshaft",
        also: "prop shaft on a vehicle; on a boat the propeller shaft is another shaft",
        means: "The shaft with joints between gearbox or transfer case and axle.",
        picture: (
          <>
            {shaft("M14 40h92")}
            <rect x={4} y={30} width={14} height={20} className="metal" />
            <rect x={102} y={30} width={14} height={20} className="metal" />
          </>
        ),
      },
      {
        term: "Axle shaft",
        also: "half shaft; stub shaft and CV shaft are kinds of it",
        means:
          "The shaft from the differential to one wheel. It is the smallest section, and often the one that breaks.",
        picture: axle(chalk("M76 40h24")),
      },
      {
        term: "Carrier, spider and side gears",
        also: "differential case, pinion mates",
        means:
          "The carrier is bolted to the ring gear. Its spider gears turn on the cross shaft and drive a side gear for each axle shaft.",
        picture: axle(<Gear x={60} y={40} r={9} n={9} hub={2} />),
      },
      {
        term: "Open diff",
        also: "open differential",
        means:
          "Shares torque evenly and lets the wheels turn at different speeds. One wheel without grip takes the drive from both.",
        picture: axle(<Gear x={60} y={40} r={11} n={12} hub={3} />),
      },
      {
        term: "Locker",
        also: "differential lock",
        means: "Makes both wheels of an axle turn together. In turns on pavement it winds up.",
        picture: axle(chalk("M48 40h24M54 34v12M66 34v12")),
      },
      {
        term: "Limited slip",
        also: "LSD",
        means: "Passes some torque to the wheel with grip, by clutches, helical gears or a viscous coupling.",
        picture: axle(line("M52 30v20M58 30v20M64 30v20M70 30v20")),
      },
      {
        term: "Spool",
        means: "No differential at all: both wheels are one with the ring gear.",
        picture: axle(shaft("M44 40h32")),
      },
      {
        term: "2WD, 4WD high, 4WD low",
        means:
          "What the transfer case drives and through which range. Part-time 4WD has no center differential: loose ground only.",
        picture: (
          <>
            {shaft("M0 26h120M56 60h64")}
            <path d="M58 14h18v58H58z" className="case" />
            <Gear x={67} y={26} r={12} n={12} hub={3} />
            <Gear x={67} y={60} r={12} n={12} hub={3} />
          </>
        ),
      },
    ],
  },
  {
    name: "Setting up gears",
    terms: [
      {
        term: "Pinion depth",
        means: "How far the pinion reaches toward the ring gear's axis. Depth shims set it.",
        picture: (
          <>
            {set}
            {chalk("M30 62h34m-8-6l8 6-8 6")}
          </>
        ),
      },
      {
        term: "Backlash",
        means: "The play between ring gear and pinion teeth, read with a dial indicator on a ring tooth.",
        picture: (
          <>
            {set}
            <circle cx={102} cy={14} r={11} className="ring" />
            {chalk("M102 14l6-5")}
          </>
        ),
      },
      {
        term: "Carrier shims",
        also: "side shims",
        means: "Shims beside the carrier bearings. Moving thickness from one side to the other moves the ring gear.",
        picture: axle(
          <>
            {chalk("M46 28v24M74 28v24")}
            <Gear x={60} y={40} r={9} n={10} hub={3} />
          </>,
        ),
      },
      {
        term: "Bearing preload",
        means:
          "How tightly the bearings are squeezed, felt as turning torque. A crush sleeve or a solid spacer sets it.",
        picture: (
          <>
            {shaft("M10 40h100")}
            <rect x={26} y={24} width={18} height={32} className="metal" />
            <rect x={78} y={24} width={18} height={32} className="metal" />
            {chalk("M46 40h10m20 0H66")}
          </>
        ),
      },
      {
        term: "Toe and heel",
        means: "The ends of a ring tooth: toe at the small end, heel at the big end.",
        picture: tooth(
          <>
            {spot(46, 42)}
            {line("M84 30v26")}
          </>,
        ),
      },
      {
        term: "Face and root",
        also: "tip and flank",
        means: "Face is the outer part of the tooth, root the part next to the gear's body.",
        picture: tooth(
          <>
            {spot(62, 30)}
            {line("M30 52h68")}
          </>,
        ),
      },
    ],
  },
  {
    name: "Speedometer",
    terms: [
      {
        term: "Drive gear, driven gear",
        means: "The drive gear sits on the output shaft, the driven gear turns the cable or the sensor.",
        picture: pair(14, 26),
      },
      {
        term: "Tone ring",
        also: "reluctor",
        means: "A toothed ring that a speed sensor counts: one pulse for each tooth.",
        picture: (
          <>
            <Gear x={54} y={40} r={30} n={28} hub={16} />
            <rect x={88} y={32} width={26} height={16} className="metal" />
          </>
        ),
      },
    ],
  },
  {
    name: "Boats",
    terms: [
      {
        term: "Gearcase",
        also: "lower unit; the leg of a stern drive",
        means: "The housing under water with pinion, forward gear, reverse gear and propeller shaft.",
        picture: (
          <>
            {shaft("M52 0v50")}
            {shaft("M52 54h50")}
            <path d="M45 42l4-14h6l4 14z" className="metal" />
            <path d="M62 36l8-3v42l-8-3zM42 36l-8-3v42l8-3z" className="metal" />
          </>
        ),
      },
      {
        term: "Clutch dog",
        also: "dog clutch",
        means: "The sliding clutch between forward and reverse gear. Rounded dogs pop out of gear.",
        picture: (
          <>
            {shaft("M0 40h120")}
            <path d="M46 22h10v10h8v16h-8v10H46z" className="metal" />
            <path d="M86 22H76v10h-8v16h8v10h10z" className="metal" />
          </>
        ),
      },
      {
        term: "Shift interrupt switch",
        means: "Cuts the engine for a moment so that a loaded dog can be pulled out of gear.",
        picture: (
          <>
            <rect x={20} y={30} width={80} height={34} rx={4} className="case" />
            {line("M34 48h16m20 0h16")}
            {chalk("M50 48l20-14")}
          </>
        ),
      },
      {
        term: "Pitch, slip, WOT",
        means:
          "Pitch: how far a propeller would screw ahead in one turn. Slip: how much less it does. WOT: wide-open throttle.",
        picture: (
          <>
            {shaft("M6 40h54")}
            <path
              d="M60 40c2-24 18-32 24-26s-4 22-24 26zc22 8 30 22 24 28s-22-4-24-28zc-6 20-2 34-10 34s-8-20 10-34z"
              className="metal"
            />
            <circle cx={60} cy={40} r={7} className="metal" />
            {chalk("M92 30h22m-6-6l6 6-6 6")}
          </>
        ),
      },
    ],
  },
  {
    name: "Race cars and jobs",
    terms: [
      {
        term: "Change gears",
        also: "quick-change gears",
        means:
          "Two spur gears behind the final drive that can be swapped in minutes. Turned over, a set gives a second ratio.",
        picture: pair(20, 22),
      },
      {
        term: "Complaint, cause, correction",
        means: "The three parts of a repair order: what the owner says, what you found, what you did.",
        picture: (
          <>
            <rect x={34} y={8} width={52} height={66} rx={3} className="sheet" />
            {line("M44 26h32M44 42h32M44 58h32")}
            {chalk("M40 22v8M40 38v8M40 54v8")}
          </>
        ),
      },
      {
        term: "Void a reading",
        means: "Leave a reading on record but out of the verdict, with the reason.",
        picture: (
          <>
            <rect x={30} y={20} width={60} height={40} rx={3} className="sheet" />
            {line("M40 34h40M40 46h28")}
            {chalk("M26 40h68")}
          </>
        ),
      },
    ],
  },
];
