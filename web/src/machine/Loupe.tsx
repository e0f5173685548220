import { useRef } from "react";
import type { Trace, TracedMesh, TracedShaft } from "../api/client";
import { gearPath, InnerRing } from "../drawing/gear";
import classes from "./loupe.module.css";
import { useSpin } from "./spin";

/** The planetary sets of a driveline, each seen on its end, turning as its members do. */
export function Loupes({ trace }: { trace: Trace }) {
  const sets = trace.meshes.filter((m) => m.kind === "planetary" && m.teeth?.length === 2);
  if (sets.length === 0) return null;
  const shaft = (id: string | undefined) => trace.shafts.find((s) => s.id === id);
  return (
    <div className={classes.loupes}>
      {sets.slice(0, 4).map((m) => (
        <Loupe key={m.id} mesh={m} sun={shaft(m.shafts[0])} ring={shaft(m.shafts[1])} carrier={shaft(m.shafts[2])} />
      ))}
    </div>
  );
}

const R = 56;

function Loupe({
  mesh,
  sun,
  ring,
  carrier,
}: {
  mesh: TracedMesh;
  sun?: TracedShaft;
  ring?: TracedShaft;
  carrier?: TracedShaft;
}) {
  const [zs = 20, zr = 60] = mesh.teeth ?? [];
  const zp = Math.max(1, (zr - zs) / 2);
  const rs = (R * zs) / zr;
  const rp = (R * zp) / zr;
  const refs = { sun: useRef<SVGGElement>(null), ring: useRef<SVGGElement>(null), carrier: useRef<SVGGElement>(null) };
  const planets = useRef<SVGGElement>(null);
  const speed = (s?: TracedShaft) => s?.drawn ?? 0;
  useSpin((turns) => {
    const turn = (el: SVGGElement | null, by: number) =>
      el?.setAttribute("transform", `rotate(${(turns * by * 360) % 360})`);
    turn(refs.sun.current, speed(sun));
    turn(refs.ring.current, speed(ring));
    turn(refs.carrier.current, speed(carrier));
    // On the carrier, a planet rolls on the sun.
    const own = (-(speed(sun) - speed(carrier)) * zs) / zp;
    for (const p of planets.current?.querySelectorAll<SVGGElement>(":scope > g > g") ?? []) turn(p, own);
  });
  const still = (s?: TracedShaft) => (s?.state === "still" ? classes.still : "");
  const says = (name: string, s?: TracedShaft) => `${name} ${s?.state === "still" ? "held" : (s?.direction ?? "")}`;
  return (
    <figure className={classes.loupe}>
      <svg
        viewBox="-72 -72 144 144"
        role="img"
        aria-label={`${mesh.words}: ${says("sun", sun)}, ${says("ring", ring)}`}
      >
        <circle r={70} className={classes.glass} />
        <g ref={refs.ring} className={still(ring)}>
          <InnerRing x={0} y={0} r={R} n={zr} />
          <path d={`M0 ${-R - 2}V${-R - 8}`} className="chalk" />
        </g>
        <g ref={refs.carrier} className={still(carrier)}>
          {[0, 120, 240].map((a) => (
            <path key={a} d={`M0 0V${-(rs + rp)}`} transform={`rotate(${a})`} className={classes.arm} />
          ))}
          <g ref={planets}>
            {[0, 120, 240].map((a) => (
              <g key={a} transform={`rotate(${a}) translate(0 ${-(rs + rp)})`}>
                <g>
                  <path d={gearPath(Math.max(6, Math.round(zp)), rp + 1.5, 3)} className="metal" />
                  <path d={`M0 ${-rp * 0.4}V${-rp}`} className="chalk" />
                </g>
              </g>
            ))}
          </g>
        </g>
        <g ref={refs.sun} className={still(sun)}>
          <path d={gearPath(zs, rs + 1.5, 3)} className="metal" />
          <path d={`M0 ${-rs * 0.4}V${-rs}`} className="chalk" />
        </g>
      </svg>
      <figcaption>{mesh.words}</figcaption>
    </figure>
  );
}
