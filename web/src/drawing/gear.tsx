import "./drawing.css";
/** Outline of a gear with n teeth: tooth tips at r, roots below. */
export function gearPath(n: number, r: number, depth = r * 0.16): string {
  const steps: string[] = [];
  const root = r - depth;
  for (let i = 0; i < n; i++) {
    const at = (k: number, radius: number) => {
      const a = ((i + k) / n) * 2 * Math.PI - Math.PI / 2;
      return `${(radius * Math.cos(a)).toFixed(2)},${(radius * Math.sin(a)).toFixed(2)}`;
    };
    steps.push(`${i === 0 ? "M" : "L"}${at(-0.28, root)}`, `L${at(-0.14, r)}`, `L${at(0.14, r)}`, `L${at(0.28, root)}`);
  }
  return `${steps.join("")}Z`;
}

type GearProps = { x: number; y: number; r: number; n: number; hub?: number; marked?: boolean; className?: string };

/** A gear seen from its face; marked shows the chalked start tooth. */
export function Gear({ x, y, r, n, hub = r * 0.3, marked, className }: GearProps) {
  return (
    <g transform={`translate(${x} ${y})`} className={className}>
      <path d={gearPath(n, r)} className="metal" />
      <circle r={hub} className="bore" />
      {marked && <path d={`M0 ${-r * 0.5}V${-r - 3}`} className="chalk" />}
    </g>
  );
}

/** A ring gear with teeth inside. */
export function InnerRing({ x, y, r, n }: { x: number; y: number; r: number; n: number }) {
  return (
    <g transform={`translate(${x} ${y})`}>
      <circle r={r * 1.16} className="metal" />
      <path d={gearPath(n, r, r * 0.12)} className="bore" />
    </g>
  );
}
