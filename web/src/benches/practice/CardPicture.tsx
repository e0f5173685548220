import type { DrillCard, DrillMarked } from "../../api/client";
import metal from "../../drawing/shafts.module.css";
import { Tooth } from "../setup/Tooth";
import { DifferentialBuilt } from "./DifferentialBuilt";
import classes from "./practice.module.css";
import { Stream } from "./Stream";

type Props = { card: DrillCard; image?: string; marked?: DrillMarked; built: Record<string, string> };

/** What a card shows. */
export function CardPicture({ card, image, marked, built }: Props) {
  const p = card.picture;
  switch (p?.kind) {
    case "dial":
      return <Dial whole={p.whole ?? 0} at={p.at ?? 0} marked={marked} />;
    case "stream":
      return <Stream picture={p} done={marked !== undefined} />;
    case "photo":
      return image ? <img src={image} className={classes.photo} alt="The gear whose teeth are counted" /> : null;
    case "pattern":
      return (
        <div className={classes.flanks}>
          <Tooth name="Drive side" spot={p.drive} toeLeft />
          <Tooth name="Coast side" spot={p.coast} toeLeft />
        </div>
      );
    case "stamp":
      return <Struck text={p.text ?? ""} worn={p.worn ?? 0} />;
    case "differential":
      return <DifferentialBuilt at={built} marked={marked} />;
  }
  return null;
}

const tenths = [0, 1, 2, 3, 4, 5, 6, 7, 8, 9];

/** A flange whose chalk mark has stopped somewhere; after the answer with a scale of tenths. */
function Dial({ whole, at, marked }: { whole: number; at: number; marked?: DrillMarked }) {
  return (
    <svg
      viewBox="0 0 240 240"
      className={classes.bigDial}
      role="img"
      aria-label={`A chalk mark, after ${whole} whole turns`}
    >
      <circle cx="120" cy="120" r="100" className={metal.disc} />
      <path d="M120 4V18M114 12L120 20L126 12" className={classes.pointer} />
      {marked &&
        tenths.map((i) => (
          <g key={i} transform={`rotate(${i * 36} 120 120)`}>
            <path d="M120 22V34" className={classes.tenth} />
            <text x="120" y="50" textAnchor="middle" className={classes.tenthName}>
              {i > 0 && `.${i}`}
            </text>
          </g>
        ))}
      <path d="M120 108V24" transform={`rotate(${at * 360} 120 120)`} className={metal.mark} />
      <circle cx="120" cy="120" r="12" className={metal.hub} />
    </svg>
  );
}

/** Figures struck one by one, worn unevenly. */
function Struck({ text, worn }: { text: string; worn: number }) {
  return (
    <svg viewBox="0 0 400 120" className={classes.struck} role="img" aria-label={`Stamped: ${text}`}>
      <rect x="4" y="4" width="392" height="112" rx="10" className={classes.plate} />
      {[...text].map((c, i) => {
        const r = (worn >>> ((i * 5) % 27)) & 31;
        return (
          <text
            // biome-ignore lint/suspicious/noArrayIndexKey: figures stay where they were struck
            key={i}
            x={200 + (i - (text.length - 1) / 2) * 44}
            y={76 + (r % 7) - 3}
            transform={`rotate(${(r % 9) - 4} ${200 + (i - (text.length - 1) / 2) * 44} 70)`}
            textAnchor="middle"
            className={classes.figure}
            style={{ opacity: 0.35 + (r / 31) * 0.65 }}
          >
            {c}
          </text>
        );
      })}
    </svg>
  );
}
