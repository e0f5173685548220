import { useMediaQuery } from "@mantine/hooks";
import type { Doc } from "../api/client";
import type { Disc, Plan, Rod } from "./plan";

/** Whether machines are drawn with the front up: a phone that is held upright. */
export const useStanding = () =>
  useMediaQuery("(max-width: 760px) and (orientation: portrait)", undefined, { getInitialValueInEffect: false }) ??
  false;

/** A plan turned a quarter, so that the front is up and the right side at the right. */
export function upright(p: Plan): Plan {
  const at = (x: number, y: number): [number, number] => [p.h - y, x];
  const rod = (r: Rod): Rod => {
    const [x1, y1] = at(r.x1, r.y1);
    const [x2, y2] = at(r.x2, r.y2);
    return { ...r, x1, y1, x2, y2, turned: r.y1 !== r.y2 };
  };
  const disc = (d: Disc): Disc => {
    const [x, y] = at(d.x, d.y);
    if (d.along === "x") return { ...d, x, y, along: "y" };
    // What lay along y toward more now lies along x toward less.
    const cone = d.cone && (-d.cone as 1 | -1);
    return { ...d, x, y, along: "x", turned: true, cone, slide: d.slide?.map((s) => ({ ...s, by: -s.by })) };
  };
  const ends = <T extends { x1: number; y1: number; x2: number; y2: number }>(j: T): T => {
    const [x1, y1] = at(j.x1, j.y1);
    const [x2, y2] = at(j.x2, j.y2);
    return { ...j, x1, y1, x2, y2 };
  };
  return {
    upright: true,
    rods: p.rods.map(rod),
    discs: p.discs.map(disc),
    jumps: p.jumps.map(ends),
    belts: p.belts.map(ends),
    boxes: p.boxes.map((b) => ({ ...b, x: p.h - b.y - b.h, y: b.x, w: b.h, h: b.w })),
    spots: p.spots.map((s) => {
      const [x, y] = at(s.x, s.y);
      return { ...s, x, y, side: "right" };
    }),
    idle: p.idle.map((w) => {
      const [x, y] = at(w.x, w.y);
      return { x, y };
    }),
    w: p.h,
    h: p.w,
  };
}

/** Where a name or a lever goes, in percent of the frame; beside a standing machine they follow each other. */
export const spotStyle = (s: { x: number; y: number }, plan: Plan) =>
  plan.upright ? undefined : { left: `${(s.x / plan.w) * 100}%`, top: `${(s.y / plan.h) * 100}%` };

/** Parts from the front to the rear where the machine stands; else as they are. */
export const inOrder = <T extends { y: number }>(spots: T[], plan: Plan): T[] =>
  plan.upright ? [...spots].sort((a, b) => a.y - b.y) : spots;

/** The shape of the frame that holds the machine. */
export const frameStyle = (plan: Plan) =>
  plan.upright ? undefined : { aspectRatio: `${plan.w} / ${plan.h}`, ["--aspect" as string]: plan.w / plan.h };

/** Where the front is on the drawing. */
export const frontMark = (doc: Doc, plan: Plan) => {
  if (doc.lies === "bench") return "";
  if (doc.lies === "boat") return "← bow";
  return plan.upright ? "↑ front, seen from above" : "← front, seen from above";
};
