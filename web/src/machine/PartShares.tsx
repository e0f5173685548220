import type { Doc, Trace } from "../api/client";
import { partName } from "./document";
import { OverMachine, partSpot } from "./OverMachine";
import classes from "./shares.module.css";

type Props = {
  doc: Doc;
  trace: Trace;
  /** Of each part, its share of the whole. */
  parts?: Record<string, number>;
  chosen?: string;
  onShaft?: (id: string) => void;
  of: string;
};

/** The machine with a share on each part, as large as it is. */
export function PartShares({ doc, trace, parts, chosen, onShaft, of }: Props) {
  const shares = Object.entries(parts ?? {}).sort(([, a], [, b]) => b - a);
  return (
    <OverMachine
      doc={doc}
      trace={trace}
      chosen={chosen}
      onShaft={onShaft}
      caption={
        shares.length > 0 && (
          <p className="dim">
            {of}:{" "}
            {shares
              .filter(([, v]) => v >= 0.005)
              .slice(0, 6)
              .map(([id, v]) => {
                const p = doc.parts.find((x) => x.id === id);
                return `${p ? partName(p).toLowerCase() : id} ${Math.round(v * 100)}`;
              })
              .join(", ")}
          </p>
        )
      }
    >
      {(plan) =>
        shares.map(([id, share]) => {
          const spot = partSpot(plan, id);
          if (!spot || share < 0.02) return null;
          return (
            <g key={id}>
              <circle cx={spot.x} cy={spot.y} r={10 + 46 * Math.sqrt(share)} className={classes.share} />
              <text x={spot.x} y={spot.y + 5} className={classes.percent}>
                {Math.round(share * 100)}
              </text>
            </g>
          );
        })
      }
    </OverMachine>
  );
}
