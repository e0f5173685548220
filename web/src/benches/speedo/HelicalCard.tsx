import { Button, Modal, TextInput } from "@mantine/core";
import { useState } from "react";
import { Counter, type Counting } from "../identify/Counter";
import classes from "./speedo.module.css";

/** A helical gear on its side: spirals run out at its end face, where they are counted. */
function HelicalPicture() {
  const ends = [30, 42, 56, 72, 88, 102, 114];
  return (
    <svg viewBox="0 0 440 150" className="method-picture" aria-hidden="true">
      <path d="M150 38H300V112H150z" className="metal" />
      {[-40, -16, 8, 32, 56, 80, 104, 128].map((x) => {
        const at = 150 + x;
        const left = Math.max(150, at);
        const right = Math.min(300, at + 52);
        const y = (px: number) => 112 - ((px - at) / 52) * 74;
        return <path key={x} d={`M${left} ${y(left)}L${right} ${y(right)}`} className={classes.spiral} />;
      })}
      <path d="M300 66H360V84H300z" className="metal" />
      <ellipse cx={150} cy={75} rx={17} ry={37} className="metal" />
      {ends.map((y, i) => (
        <circle
          key={y}
          cx={150 - 17 * Math.sqrt(Math.max(0, 1 - ((y - 75) / 44) ** 2))}
          cy={75 + (y - 72) * 0.82}
          r={i === 3 ? 4.5 : 3}
          className="dot"
        />
      ))}
      <path d="M120 75H96" className="chalk" />
      <text x={90} y={68} textAnchor="end">
        start: chalk
      </text>
      <text x={90} y={86} textAnchor="end">
        one spiral end
      </text>
      <text x={230} y={136} textAnchor="middle">
        lay it on its side, turn it by hand
      </text>
      <text x={150} y={24} textAnchor="middle">
        count where each spiral ends on this face
      </text>
    </svg>
  );
}

/** Reads a helical gear with the counter. */
export function HelicalCard({
  name,
  onCount,
  onClose,
}: {
  name: string;
  onCount: (n: number) => void;
  onClose: () => void;
}) {
  const [counting, setCounting] = useState<Counting>();
  const [told, setTold] = useState("");
  if (counting)
    return (
      <Counter
        counting={counting}
        onCount={(next) => setCounting((c) => c && { ...c, n: next(c.n) })}
        onDone={onCount}
        onClose={() => setCounting(undefined)}
      />
    );
  const n = Number(told);
  const right = Number.isInteger(n) && n >= 3 && n <= 100;
  return (
    <Modal opened onClose={onClose} title={`Count the ${name}`} size="lg">
      <HelicalPicture />
      <ol>
        <li>Vehicle chocked, engine off, gearbox cool. Take the gear out and wipe it.</li>
        <li>
          Lay it on its side. Its teeth are spirals: following one round counts it twice. Look only at the end face,
          where each spiral runs out.
        </li>
        <li>Chalk one end and call it zero. Turn the gear and count every end until the chalk comes back.</li>
        <li>Count again. Color is a hint only: replacement gears are often colored wrong.</li>
      </ol>
      <form
        className="row"
        onSubmit={(e) => {
          e.preventDefault();
          if (right) onCount(n);
        }}
      >
        <Button data-autofocus onClick={() => setCounting({ target: "helical", name, what: "teeth", n: 0 })}>
          Count now
        </Button>
        <TextInput
          aria-label="Counted teeth"
          placeholder="or counted: teeth"
          inputMode="numeric"
          w={150}
          value={told}
          onChange={(e) => setTold(e.currentTarget.value)}
          error={told && !right ? "from 3 to 100" : undefined}
        />
        <Button type="submit" variant="default" disabled={!right}>
          Use this count
        </Button>
      </form>
    </Modal>
  );
}
