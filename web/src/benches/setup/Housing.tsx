import type { SetupVerdict } from "../../api/client";
import { fixed } from "../../format/numbers";
import classes from "./setup.module.css";

/**
 * The housing from above: ring and pinion between their shims, moves drawn a hundred times as large as they are. Left
 * is the housing's left.
 */
export function Housing({ verdict, ringSide, inches }: { verdict: SetupVerdict; ringSide: string; inches: boolean }) {
  const say = (mm: number) => (inches ? fixed(mm / 25.4, 4) : fixed(mm, 2));
  const now = verdict.results[verdict.results.length - 1];
  const next = verdict.next;
  if (!now) return null;
  const left = ringSide !== "right";
  const to = (place: string) => next?.changes.find((c) => c.place === place);
  // One millimeter is a hundred units, within what the picture holds.
  const limit = (v: number) => Math.max(-26, Math.min(26, v * 100));
  const dx = limit((next?.ring_mm ?? 0) * (left ? -1 : 1));
  const dy = limit(next?.pinion_mm ?? 0);
  const ringX = left ? 196 : 364;
  return (
    <svg viewBox="0 0 560 262" className={classes.housing} role="img" aria-label={picture(verdict)}>
      <path d="M62 40H498V128H430L344 180V250H216V180L130 128H62Z" className={classes.wall} />
      <Shims
        say={say}
        x={66}
        w={46}
        now={now.left_mm}
        to={to("left")?.to_mm}
        name="left"
        pieces={to("left")?.pieces_mm}
      />
      <Shims
        say={say}
        x={448}
        w={46}
        now={now.right_mm}
        to={to("right")?.to_mm}
        name="right"
        pieces={to("right")?.pieces_mm}
      />
      <rect x={116} y={58} width={26} height={52} className={classes.bearing} />
      <rect x={418} y={58} width={26} height={52} className={classes.bearing} />
      <g className={classes.moved} transform={`translate(${dx} 0)`}>
        {dx !== 0 && <path d={left ? ringPath(ringX, 1) : ringPath(ringX, -1)} className={classes.ghost} />}
      </g>
      <path d="M142 76H418V92H142Z" className={classes.shaft} />
      <path d={ringPath(ringX, left ? 1 : -1)} className={classes.ring} />
      <g className={classes.moved} transform={`translate(0 ${-dy})`}>
        {dy !== 0 && <path d={pinionPath} className={classes.ghost} />}
      </g>
      <path d={pinionPath} className={classes.gear} />
      <rect x={252} y={196} width={18} height={30} className={classes.bearing} />
      <rect x={290} y={196} width={18} height={30} className={classes.bearing} />
      <Depth say={say} now={now.pinion_mm} to={to("pinion")?.to_mm} pieces={to("pinion")?.pieces_mm} />
      {next && next.ring_mm !== 0 && (
        <Arrow x={left ? 226 : 334} y={30} dx={next.ring_mm > 0 === left ? -1 : 1} dy={0}>
          {`ring ${say(Math.abs(next.ring_mm))} ${next.ring_mm > 0 ? "away" : "toward"}`}
        </Arrow>
      )}
      {next && next.pinion_mm !== 0 && (
        <Arrow x={372} y={216} dx={0} dy={next.pinion_mm > 0 ? -1 : 1}>
          {`pinion ${say(Math.abs(next.pinion_mm))} ${next.pinion_mm > 0 ? "in" : "out"}`}
        </Arrow>
      )}
      <text x={8} y={256} className={classes.small}>
        moves drawn × 100, in {inches ? "inches" : "mm"}
      </text>
    </svg>
  );
}

const ringPath = (x: number, side: number) =>
  `M${x} 46H${x + side * 16}L${x + side * 34} 58V110L${x + side * 16} 122H${x}Z`;
const pinionPath = "M250 118H310L300 150H294V240H266V150H260Z";

function picture(v: SetupVerdict): string {
  if (!v.next || (v.next.ring_mm === 0 && v.next.pinion_mm === 0))
    return "Ring and pinion in their housing, nothing to move";
  return v.next.text;
}

function Shims({
  say,
  x,
  w,
  now,
  to,
  name,
  pieces,
}: {
  x: number;
  w: number;
  say: (mm: number) => string;
  now: number;
  to?: number;
  name: string;
  pieces?: number[];
}) {
  const list = pieces && pieces.length > 0 ? pieces : [to ?? now];
  const total = list.reduce((a, b) => a + b, 0) || 1;
  let at = x;
  return (
    <g>
      {list.map((p, i) => {
        const width = (p / total) * w;
        const from = at;
        at += width;
        return (
          <rect
            // biome-ignore lint/suspicious/noArrayIndexKey: two shims of a stack may be alike
            key={i}
            x={from + 0.6}
            y={56}
            width={Math.max(1, width - 1.2)}
            height={56}
            className={to === undefined ? classes.shim : classes.shimNew}
          />
        );
      })}
      <text x={x + w / 2} y={146} className={classes.stackName}>
        {name}
      </text>
      <text x={x + w / 2} y={162} className={classes.stackOld}>
        {say(now)}
      </text>
      {to !== undefined && (
        <text x={x + w / 2} y={182} className={classes.stackNew}>
          → {say(to)}
        </text>
      )}
      {to !== undefined && pieces && pieces.length > 1 && (
        <text x={x + w / 2} y={200} className={classes.pieces}>
          {pieces.map(say).join(" + ")}
        </text>
      )}
    </g>
  );
}

function Depth({ say, now, to, pieces }: { say: (mm: number) => string; now: number; to?: number; pieces?: number[] }) {
  return (
    <g>
      <rect x={252} y={186} width={56} height={9} className={to === undefined ? classes.shim : classes.shimNew} />
      <text x={206} y={206} className={classes.stackName} textAnchor="end">
        depth
      </text>
      <text x={206} y={222} className={classes.stackOld} textAnchor="end">
        {say(now)}
      </text>
      {to !== undefined && (
        <text x={206} y={242} className={classes.stackNew} textAnchor="end">
          → {say(to)}
          {pieces && pieces.length > 1 ? ` = ${pieces.map(say).join(" + ")}` : ""}
        </text>
      )}
    </g>
  );
}

function Arrow({ x, y, dx, dy, children }: { x: number; y: number; dx: number; dy: number; children: string }) {
  const head = dx !== 0 ? `M${x + dx * 34} ${y}l${-dx * 13} -8v16Z` : `M${x} ${y + dy * 30}l-8 ${-dy * 13}h16Z`;
  return (
    <g className={classes.arrow}>
      <path d={`M${x - dx * 24} ${y - dy * 20}L${x + dx * 22} ${y + dy * 18}`} />
      <path d={head} className={classes.head} />
      <text x={dx !== 0 ? x : x + 16} y={dx !== 0 ? y - 14 : y + 5} textAnchor={dx !== 0 ? "middle" : "start"}>
        {children}
      </text>
    </g>
  );
}
