import type { DrillMarked } from "../../api/client";
import metal from "../../drawing/shafts.module.css";
import classes from "./practice.module.css";

const spokes = [0, 60, 120, 180, 240, 300];
const sides: [id: string, x: number][] = [
  ["left", 176],
  ["right", 344],
];

/** The carrier between two axle shafts with what was put in; once tried, how far each shaft goes. */
export function DifferentialBuilt({ at, marked }: { at: Record<string, string>; marked?: DrillMarked }) {
  const goes = (id: string) => {
    const straight = marked?.shafts?.[id];
    if (!marked) return "";
    if (straight === undefined) return ": loose";
    const corner = marked.corner?.[id];
    return corner === undefined ? `: ${straight}` : `: ${straight}, in a corner ${corner}`;
  };
  return (
    <svg viewBox="0 0 520 190" className={classes.built} role="img" aria-label="A carrier between two axle shafts">
      <path d="M20 78H176V92H20ZM344 78H500V92H344Z" className={metal.tube} />
      <rect x="180" y="26" width="160" height="118" rx="10" className={classes.frame} />
      {at.carrier === "bar" || at.carrier === "fixed" ? (
        <>
          <path d="M260 30v110" className={classes.piece} />
          <path d="M212 60H308M212 110H308" className={classes.piece} />
          {at.carrier === "bar" ? (
            <circle cx="260" cy="85" r="7" className={classes.pivot} />
          ) : (
            <path d="M252 22h16v14h-16zM252 134h16v14h-16z" className={classes.bolted} />
          )}
        </>
      ) : (
        <path d="M260 26v118" className={classes.slot} />
      )}
      {sides.map(([id, x]) => (
        <g key={id} transform={`translate(${x} 85)`}>
          {at[id] === "spokes" ? (
            spokes.map((a) => <path key={a} d="M0 0V-34" transform={`rotate(${a})`} className={classes.piece} />)
          ) : at[id] === "clamp" ? (
            <path d="M-12-26h24v52h-24z" className={classes.bolted} />
          ) : (
            <circle r="24" className={classes.slot} />
          )}
        </g>
      ))}
      <circle cx="20" cy="85" r="18" className={metal.tire} />
      <circle cx="500" cy="85" r="18" className={metal.tire} />
      <text x="14" y="52" className={classes.shaftName}>
        Left axle shaft{goes("left")}
      </text>
      <text x="506" y="52" textAnchor="end" className={classes.shaftName}>
        Right axle shaft{goes("right")}
      </text>
      <text x="260" y="176" textAnchor="middle" className={classes.shaftName}>
        Carrier, turned by the ring gear{goes("carrier")}
      </text>
    </svg>
  );
}
