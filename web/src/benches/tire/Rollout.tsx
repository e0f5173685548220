/** How to roll a tire out on the floor. */
import classes from "./tire.module.css";
export function Rollout() {
  return (
    <div className={classes.rollout}>
      <svg
        viewBox="0 0 330 118"
        role="img"
        aria-label="Chalk tire and floor, roll whole turns, measure from chalk to chalk"
      >
        <path d="M4 92H326" className={classes.floor} />
        <circle cx={46} cy={56} r={36} className={classes.tread} />
        <circle cx={46} cy={56} r={18} className={classes.rim} />
        <path d="M46 78V98" className="chalk" />
        <circle cx={272} cy={56} r={36} className={classes.tread} opacity={0.45} />
        <circle cx={272} cy={56} r={18} className={classes.rim} />
        <path d="M272 78V98" className="chalk" />
        <path d="M92 40H222m0 0l-9 -5m9 5l-9 5" className={classes.arrow} />
        <text x={159} y={30} textAnchor="middle">
          whole turns, straight
        </text>
        <path d="M46 104H272M46 100v8M272 100v8" className={classes.arrow} />
        <text x={159} y={117} textAnchor="middle" className={classes.small}>
          rollout
        </text>
      </svg>
      <ol>
        <li>Vehicle loaded as driven, tire pressures right. Engine off, chocks at hand, nobody in the way.</li>
        <li>Chalk the tire and the floor where they touch.</li>
        <li>Roll straight ahead for whole turns of the wheel; three are better than one.</li>
        <li>Chalk the floor again below the mark. Measure from chalk to chalk.</li>
      </ol>
    </div>
  );
}
