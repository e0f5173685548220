import type { SetupSpot } from "../../api/client";
import classes from "./setup.module.css";

const cells = [-1, 0, 1];
const heights: Record<number, string> = { 1: "toward the face", 0: "at mid height", [-1]: "toward the root" };
const lengths: Record<number, string> = { 1: "toward the big end", 0: "mid length", [-1]: "toward the small end" };
const near = (v: number) => (v > 0.33 ? 1 : v < -0.33 ? -1 : 0);

/** Where a spot lies, in words. */
export const spotWords = (s: SetupSpot) => `${heights[near(s.height)]}, ${lengths[near(s.length)]}`;

type Props = {
  name: string;
  spot?: SetupSpot;
  /** Where it should lie after the next move, with how sure. */
  then?: { height: number; length: number; spread: number };
  onSpot?: (s: SetupSpot | undefined) => void;
  /** The small end lies left or right: drive and coast are seen from both sides. */
  toeLeft: boolean;
};

/** One flank of a ring gear's tooth, as one looks at it: the face above, the root below. A finger or a key places the pattern. */
export function Tooth({ name, spot, then, onSpot, toeLeft }: Props) {
  const x = (length: number) => 100 + (toeLeft ? 1 : -1) * length * 78;
  const y = (height: number) => 46 - height * 30;
  return (
    <figure className={classes.tooth}>
      <figcaption>
        {name}
        {onSpot && spot && (
          <button type="button" className="linklike" onClick={() => onSpot(undefined)}>
            none
          </button>
        )}
      </figcaption>
      <div className={classes.flank}>
        <svg
          viewBox="0 0 200 104"
          role="img"
          aria-label={spot ? `${name}: ${spotWords(spot)}` : `${name}: no pattern yet`}
        >
          <path
            d={toeLeft ? "M14 18 L186 6 V86 L14 76Z" : "M186 18 L14 6 V86 L186 76Z"}
            className={classes.flankFace}
          />
          <path d={`M${x(-1)} 46H${x(1)}`} className={classes.mid} />
          {then && (
            <ellipse
              cx={x(clip(then.length))}
              cy={y(clip(then.height))}
              rx={36}
              ry={Math.max(9, Math.min(28, then.spread * 26))}
              className={classes.then}
            />
          )}
          {spot && <ellipse cx={x(spot.length)} cy={y(spot.height)} rx={34} ry={12} className={classes.spot} />}
          <text x={x(-1)} y={101} className={classes.small} textAnchor={toeLeft ? "start" : "end"}>
            toe
          </text>
          <text x={x(1)} y={101} className={classes.small} textAnchor={toeLeft ? "end" : "start"}>
            heel
          </text>
          <text x={100} y={8} className={classes.small} textAnchor="middle">
            face
          </text>
        </svg>
        {onSpot && (
          <div className={classes.grid}>
            {[1, 0, -1].map((h) =>
              (toeLeft ? cells : [...cells].reverse()).map((l) => (
                <button
                  key={`${h} ${l}`}
                  type="button"
                  aria-label={`${name}: ${heights[h]}, ${lengths[l]}`}
                  aria-pressed={spot !== undefined && near(spot.height) === h && near(spot.length) === l}
                  onClick={(e) => {
                    // A finger says where exactly; a key takes the middle of the field.
                    if (e.detail === 0) return onSpot({ height: h * 0.7, length: l * 0.7 });
                    const box = e.currentTarget.parentElement?.getBoundingClientRect();
                    if (!box) return;
                    const px = ((e.clientX - box.left) / box.width) * 2 - 1;
                    const py = 1 - ((e.clientY - box.top) / box.height) * 2;
                    onSpot({ height: tenth(py), length: tenth(toeLeft ? px : -px) });
                  }}
                />
              )),
            )}
          </div>
        )}
      </div>
      {spot && <small>{spotWords(spot)}</small>}
    </figure>
  );
}

const clip = (v: number) => Math.max(-1, Math.min(1, v));
const tenth = (v: number) => Math.round(clip(v) * 20) / 20;
