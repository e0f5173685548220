import clsx from "clsx";
import { type KeyboardEvent, useRef } from "react";
import type { SpeedoCell, SpeedoRequest } from "../../api/client";
import { change } from "../../format/numbers";
import classes from "./speedo.module.css";

type Housing = NonNullable<NonNullable<SpeedoRequest["mechanical"]>["housings"]>[number];

/** A sign beside the color, so that no color is needed to read the grid. */
export const signs: Record<string, string> = { good: "✓", usable: "~", high: "▲", low: "▼" };

export const legend: [string, string][] = [
  ["good", "to 2 % high"],
  ["usable", "to 4 % high"],
  ["high", "more: too high"],
  ["low", "reads low: not road legal in most places"],
];

/** Every drive gear with every driven gear, by how far the needle is off. */
export function Grid({
  cells,
  ideal,
  at,
  best,
  fitted,
  housings,
  onTake,
}: {
  cells: SpeedoCell[];
  ideal: { drive: number; driven: { decimal: number } }[];
  at?: SpeedoCell;
  best?: SpeedoCell;
  fitted?: SpeedoCell;
  housings: Housing[];
  onTake: (c: SpeedoCell) => void;
}) {
  const table = useRef<HTMLTableElement>(null);
  const drives = [...new Set(cells.map((c) => c.drive))];
  const driven = [...new Set(cells.map((c) => c.driven))];
  const find = (d: number, v: number) => cells.find((c) => c.drive === d && c.driven === v);
  const focus = at ?? best ?? cells[0];
  const move = (e: KeyboardEvent, c: SpeedoCell) => {
    const step = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[e.key];
    if (!step) return;
    e.preventDefault();
    const d = drives[drives.indexOf(c.drive) + (step[0] ?? 0)];
    const v = driven[driven.indexOf(c.driven) + (step[1] ?? 0)];
    const next = d !== undefined && v !== undefined ? find(d, v) : undefined;
    if (!next) return;
    onTake(next);
    table.current?.querySelector<HTMLElement>(`[data-pair="${next.drive}-${next.driven}"]`)?.focus();
  };
  // A housing lies as a bar over the driven gears that it takes.
  const spans = housings
    .map((h) => {
      const takes = driven.filter((v) => v >= h.takes_from && v <= h.takes_to);
      return { h, from: driven.indexOf(takes[0] ?? 0), n: takes.length };
    })
    .filter((x) => x.n > 0)
    .sort((x, y) => x.from - y.from);
  return (
    <div className="scroll">
      <table className={classes.grid} ref={table} aria-label="Drive and driven gears">
        <thead>
          <tr>
            <th rowSpan={1 + spans.length} className={classes.corner}>
              drive ↓<br />
              driven →
            </th>
            {driven.map((v) => (
              <th key={v} scope="col">
                {v}
              </th>
            ))}
            <th scope="col" rowSpan={1 + spans.length}>
              true at
            </th>
          </tr>
          {spans.map(({ h, from, n }) => (
            <tr key={h.name}>
              {from > 0 && <td colSpan={from} />}
              <td colSpan={n} className={classes.house}>
                {h.name} {h.shelf ? "■" : "□"}
              </td>
              {driven.length > from + n && <td colSpan={driven.length - from - n} />}
            </tr>
          ))}
        </thead>
        <tbody>
          {drives.map((d) => (
            <tr key={d}>
              <th scope="row">{d}</th>
              {driven.map((v) => {
                const c = find(d, v);
                if (!c) return <td key={v} />;
                return (
                  <Pair
                    key={v}
                    c={c}
                    best={is(c, best)}
                    fitted={is(c, fitted)}
                    taken={is(c, at)}
                    focus={is(c, focus)}
                    onTake={onTake}
                    onMove={move}
                  />
                );
              })}
              <td className={`num ${classes.ideal}`}>{ideal.find((x) => x.drive === d)?.driven.decimal.toFixed(2)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Whether two are the same pair. */
const is = (c: SpeedoCell, x?: SpeedoCell) => x?.drive === c.drive && x.driven === c.driven;

interface PairProps {
  c: SpeedoCell;
  best: boolean;
  fitted: boolean;
  taken: boolean;
  focus: boolean;
  onTake: (c: SpeedoCell) => void;
  onMove: (e: KeyboardEvent, c: SpeedoCell) => void;
}

/** One pair: how far it is off, whether the shop has it, and whether it is the one. */
function Pair({ c, best, fitted, taken, focus, onTake, onMove }: PairProps) {
  const shown = change(c.percent, Math.abs(c.percent) < 10 ? 1 : 0);
  const name = [
    `Drive ${c.drive}, driven ${c.driven}: ${shown}, ${c.words}`,
    c.held ? "" : "no housing takes it",
    c.shelf ? "on the shelf" : "to order",
    fitted ? "installed now" : "",
    best ? "best pair" : "",
  ];
  return (
    <td>
      <button
        type="button"
        data-pair={`${c.drive}-${c.driven}`}
        tabIndex={focus ? 0 : -1}
        data-mark={c.mark}
        className={clsx(
          classes.cell,
          classes.mark,
          !c.held && classes.noHouse,
          best && "is-best",
          fitted && "is-fitted",
        )}
        aria-pressed={taken}
        aria-label={name.filter(Boolean).join(", ")}
        title={name.filter(Boolean).join(", ")}
        onClick={() => onTake(c)}
        onKeyDown={(e) => onMove(e, c)}
      >
        <i aria-hidden="true">
          {signs[c.mark]}
          {c.shelf ? "■" : "□"}
        </i>
        <b>{shown.replace(" %", "")}</b>
      </button>
    </td>
  );
}
