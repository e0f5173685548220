import type { Part } from "../../api/client";
import { gearR, type Pen, spider } from "../plan";
import { fedBy } from "../tree";
import { halfAxle } from "./halfAxle";

/** A crosswise engine's clutch, gearbox and final drive, all on crosswise shafts. */
export function crosswise({ d, plan }: Pen, e: Part, x: number, y: number) {
  let shaft = `${e.id}.crank`;
  let q = fedBy(d, e.id);
  let at = y;
  if (q?.kind === "clutch") {
    plan.discs.push({ shaft, along: "y", x, y: at - 6, r: 22, half: 4, teeth: 0, look: "clutch" });
    plan.discs.push({ shaft: `${q.id}.out`, along: "y", x, y: at - 18, r: 22, half: 4, teeth: 0, look: "clutch" });
    plan.jumps.push(
      { mesh: `${q.id}.clutch`, x1: x, y1: at, x2: x, y2: at - 18 },
      { mesh: `${q.id}.fluid`, x1: x, y1: at, x2: x, y2: at - 18 },
    );
    plan.spots.push({ part: q.id, x: x - 30, y: at - 12, side: "left" });
    shaft = `${q.id}.out`;
    at -= 18;
    q = fedBy(d, q.id);
  }
  if (q?.kind !== "gearbox") return;
  const box = q;
  const gears = box.gearbox?.gears ?? [];
  const step = 22;
  const top = at - 14 - gears.length * step;
  const ox = x + 50;
  plan.boxes.push({ part: box.id, x: x - 30, y: top - 8, w: 112, h: at - top - 2, round: 6 });
  plan.spots.push({ part: box.id, x: x + 20, y: top - 8, side: "above" });
  plan.rods.push(
    { shaft, x1: x, y1: at, x2: x, y2: top },
    { shaft: `${box.id}.out`, x1: ox, y1: at - 8, x2: ox, y2: top },
  );
  gears.forEach((g, i) => {
    const gy = at - 24 - step * i;
    const r = gearR(g.driven, g.drive, 50);
    plan.discs.push(
      {
        shaft,
        along: "y",
        x,
        y: gy,
        r: 50 - r - (g.idler ? 6 : 0),
        half: 6,
        teeth: g.drive || 18,
        look: "gear",
        mesh: `${box.id}.gear ${g.name}`,
      },
      {
        shaft: g.selector === "sliding" ? `${box.id}.out` : `${box.id}.gear ${g.name}`,
        along: "y",
        x: ox,
        y: gy,
        r: r - (g.idler ? 6 : 0),
        half: 6,
        teeth: g.driven || 24,
        look: "gear",
        mesh: `${box.id}.gear ${g.name}`,
      },
    );
    plan.jumps.push(
      { mesh: `${box.id}.gear ${g.name}`, x1: x, y1: gy, x2: ox, y2: gy },
      { mesh: `${box.id}.select ${g.name}`, x1: ox, y1: gy, x2: ox, y2: gy + 8 },
    );
  });
  const ax = fedBy(d, box.id);
  if (ax?.kind !== "axle") return;
  const cx = ox + 66;
  const fy = at + 4;
  plan.rods.push({ shaft: `${box.id}.out`, x1: ox, y1: at - 8, x2: ox, y2: fy + 6 });
  plan.discs.push(
    {
      shaft: `${box.id}.out`,
      along: "y",
      x: ox,
      y: fy,
      r: 14,
      half: 6,
      teeth: ax.axle?.pinion || 16,
      look: "gear",
      mesh: `${ax.id}.final`,
    },
    {
      shaft: `${ax.id}.ring`,
      along: "y",
      x: cx,
      y: fy,
      r: 50,
      half: 6,
      teeth: Math.min(ax.axle?.ring || 60, 44),
      look: "ring",
      mesh: `${ax.id}.final`,
    },
  );
  plan.jumps.push(
    { mesh: `${ax.id}.final`, x1: ox, y1: fy, x2: cx, y2: fy },
    { mesh: `${ax.id}.differential`, x1: cx, y1: fy, x2: cx, y2: fy - 18 },
  );
  plan.boxes.push({ part: ax.id, x: cx - 56, y: fy - 40, w: 112, h: 64, round: 26 });
  plan.spots.push({ part: ax.id, x: cx + 56, y: fy, side: "right" });
  spider(plan, `${ax.id}.differential`, cx, fy - 22, [`${ax.id}.left`, `${ax.id}.right`], "y");
  for (const s of [1, -1]) {
    const port = s === 1 ? "left" : "right";
    halfAxle(d, plan, fedBy(d, `${ax.id}.${port}`), cx, fy - 22, s, `${ax.id}.${port}`, `${ax.id}.${port}`, "");
    plan.jumps.push({ mesh: `${ax.id}.differential`, x1: cx, y1: fy - 22, x2: cx, y2: fy - 22 + s * 10 });
  }
}
