import classes from "./cards.module.css";

/** What a step looks like, drawn: one sign for one kind of work. */
export function StepPicture({ of }: { of: string }) {
  const d = pictures[of];
  if (!d) return null;
  return (
    <svg viewBox="0 0 160 100" className={classes.picture} role="img" aria-label={d.says}>
      {d.metal && <path d={d.metal} className={classes.metal} />}
      {d.line && <path d={d.line} className={classes.line} />}
      {d.brass && <path d={d.brass} className={classes.brass} />}
      {d.move && <path d={d.move} className={classes.move} />}
    </svg>
  );
}

const ringOf = (x: number, y: number, r: number) =>
  `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0`;

const pictures: Record<string, { says: string; metal?: string; line?: string; brass?: string; move?: string }> = {
  stands: {
    says: "an axle on two stands, the wheels off the floor and chocked",
    metal: "M30 34H130V44H30ZM10 22h22v36H10zM128 22h22v36h-22z",
    brass: "M44 46h12l10 42H34zM104 46h12l10 42H94z",
    line: "M4 90H156",
  },
  turns: {
    says: "a flange with a mark that is turned past the mark on the housing",
    metal: `${ringOf(80, 54, 34)}M74 8h12v12H74z`,
    brass: "M76 22h8v14h-8z",
    move: "M116 30a44 44 0 0 1 6 44M122 74l-9 -8m9 8l6 -11",
  },
  teeth: {
    says: "a gear whose first tooth is marked, counted around",
    metal: ringOf(80, 54, 30),
    line: "M80 24V12M101 33l8 -8M110 54h12M101 75l8 8M80 84v12M59 75l-8 8M50 54H38M59 33l-8 -8",
    brass: "M75 10h10v14H75z",
    move: "M96 14a46 46 0 0 1 24 22M120 36l-2 -11m2 11l-11 -2",
  },
  cover: {
    says: "a cover whose screws are loosened crosswise, one, two, three, four",
    metal: ringOf(80, 50, 40),
    brass: `${ringOf(80, 18, 5)}${ringOf(80, 82, 5)}${ringOf(48, 50, 5)}${ringOf(112, 50, 5)}`,
    move: "M80 24V76M54 50H106",
  },
  dial: {
    says: "a dial gauge on a tooth while the other gear is held",
    metal: `${ringOf(58, 66, 28)}`,
    line: `M86 52H104${ringOf(126, 40, 20)}M126 40l9 -10`,
    move: "M30 32a36 36 0 0 1 34 -6M64 26l-10 -6m10 6l-9 7",
  },
  pattern: {
    says: "paste on a tooth with the contact in its middle",
    metal: "M16 24L144 14V86L16 76Z",
    brass: "M50 50a30 12 0 1 0 60 0a30 12 0 1 0 -60 0",
  },
  shims: {
    says: "shims of one place in their order, kept together",
    metal: "M20 20H40V84H20ZM120 20H140V84H120Z",
    brass: "M52 24h8v56h-8zM66 24h5v56h-5zM78 24h10v56H78zM96 24h4v56h-4z",
  },
  seal: {
    says: "a seal that goes in square, its lip toward the oil",
    metal: "M20 14H60V38H100V62H60V86H20Z",
    brass: "M104 34h14v32h-14z",
    move: "M150 50H126M126 50l9 -6m-9 6l9 6",
  },
  offset: {
    says: "a gear whose teeth stand off its hub: one way round they meet, the other they miss",
    metal: "M40 16H62V84H40ZM62 36H84V64H62Z",
    line: "M98 16h22v68H98zM76 36h22v28H76z",
    move: "M20 92c20 10 90 10 120 0M140 92l-10 -4m10 4l-8 7",
  },
  string: {
    says: "a string wound on the flange and drawn by a scale",
    metal: ringOf(48, 54, 30),
    line: "M48 24H112",
    brass: "M112 16h34v16h-34z",
    move: "M146 24h10",
  },
  tray: {
    says: "oil that runs into a tray",
    metal: "M56 10H104V34H88L80 44L72 34H56Z",
    brass: "M78 46h4v22h-4zM36 76H124L116 92H44Z",
  },
  breather: {
    says: "a breather on top, open",
    metal: "M24 56H136V92H24Z",
    line: "M80 56V34M70 34H90V22H70Z",
    move: "M80 18V4M80 4l-6 7m6 -7l6 7",
  },
};
