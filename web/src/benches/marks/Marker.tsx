import { Button } from "@mantine/core";
import { type ReactNode, useCallback, useState } from "react";
import { api, type MarkPoint, take } from "../../api/client";
import { key } from "../../api/keys";
import { useCalc } from "../../api/useCalc";
import { chance, percent } from "../../format/numbers";
import { CountIt, useSight } from "./CountIt";
import classes from "./marks.module.css";
import { Sheet } from "./Sheet";

const least = 6;

type Props = {
  src: string;
  width: number;
  height: number;
  points: MarkPoint[];
  onPoints?: (p: MarkPoint[]) => void;
  /** Teeth are counted as soon as the photo is there. */
  atOnce?: boolean;
};

/** How many teeth the marks speak for. */
export function useCount(points: MarkPoint[]) {
  return useCalc(key.toothMarks, { points }, (body, signal) => take(api.POST("/calc/tooth-marks", { body, signal })), {
    ready: points.length >= least,
    rest: 100,
  });
}

/** A photo on which teeth are counted by the program, or tapped one by one; what the spacing says follows. */
export function Marker({ src, width, height, points, onPoints, atOnce = false }: Props) {
  const [zoom, setZoom] = useState(1);
  const count = useCount(points);
  const [on, setOn] = useState(atOnce);
  const [tap, setTap] = useState<MarkPoint>();
  const [pointing, setPointing] = useState(false);
  const sight = useSight({ src, tap, on });
  // As long as nobody has touched its marks, the program's own count is shown with that of the spacing.
  const seen = on && sight.data?.state !== "cant" && points === sight.data?.marks ? sight.data.teeth : undefined;
  const set = useCallback((p: MarkPoint[]) => onPoints?.(p), [onPoints]);
  return (
    <div className={classes.marker}>
      <div className={classes.frame}>
        <div
          className={classes.sheet}
          style={{
            width: `calc(${zoom} * min(100%, ${(74 * width) / height}vh))`,
            aspectRatio: `${width} / ${height}`,
          }}
        >
          <img src={src} alt="" draggable={false} />
          <Sheet
            width={width}
            height={height}
            r={Math.max(width, height) / 110 / Math.sqrt(zoom)}
            points={points}
            doubtful={on ? (sight.data?.doubtful ?? []) : []}
            count={count}
            onPoints={onPoints && set}
            onPlace={
              pointing
                ? (p) => {
                    setTap(p);
                    setPointing(false);
                  }
                : undefined
            }
          />
        </div>
      </div>
      <Side points={points} count={count} seen={seen} zoom={zoom} onZoom={setZoom} onPoints={onPoints}>
        {onPoints && (
          <CountIt
            sight={sight}
            on={on}
            pointing={pointing}
            onAsk={() => setOn(true)}
            onPoint={() => setPointing(true)}
            onMarks={set}
          />
        )}
      </Side>
    </div>
  );
}

export type Counted = ReturnType<typeof useCount>;

type SideProps = {
  points: MarkPoint[];
  count: Counted;
  /** How many teeth the program counted, while its marks are as it laid them. */
  seen?: number;
  zoom: number;
  onZoom: (z: number) => void;
  onPoints?: (p: MarkPoint[]) => void;
  children?: ReactNode;
};

/** The count beside the photo, what the spacing says of it, and the tools. */
function Side({ points, count: { answer, error }, seen, zoom, onZoom, onPoints, children }: SideProps) {
  return (
    <div className={classes.side}>
      <p className={classes.count} aria-live="polite">
        {seen && answer && seen !== answer.count ? `${seen} or ${answer.count}` : (answer?.count ?? points.length)}
        <small>{answer ? "teeth" : points.length === 1 ? "mark" : "marks"}</small>
      </p>
      {children}
      {points.length < least && onPoints && (
        <p>Or tap each tooth once. From {least} marks on, the spacing is checked.</p>
      )}
      {error && <p className="trouble">{error.message}</p>}
      {answer && (
        <>
          <h2>{answer.sentence}</h2>
          <ul>
            {answer.looks.map((l) => (
              <li key={l.words}>{l.words}</li>
            ))}
          </ul>
          <p className="dim">
            By the spacing, {chance(answer.chance)}: one tooth is {answer.spacing_deg}°, neighbors differ by{" "}
            {percent(answer.spread)}; it is seen {answer.tilt_deg}° from the side, and the circle is corrected for that.
          </p>
        </>
      )}
      <div className="row wrap">
        {[1, 2, 4].map((z) => (
          <Button
            key={z}
            size="compact-md"
            variant={z === zoom ? "filled" : "default"}
            onClick={() => onZoom(z)}
            aria-pressed={z === zoom}
          >
            {z === 1 ? "whole" : `${z}×`}
          </Button>
        ))}
        {onPoints && (
          <>
            <Button
              size="compact-md"
              variant="default"
              disabled={points.length === 0}
              onClick={() => onPoints(points.slice(0, -1))}
            >
              Undo the last mark
            </Button>
            <Button size="compact-md" variant="default" disabled={points.length === 0} onClick={() => onPoints([])}>
              Start over
            </Button>
          </>
        )}
      </div>
    </div>
  );
}
