import type { PracticeEye } from "../../api/client";
import classes from "./practice.module.css";

/** The learner's eye as a dial: where a mark at the top is read, on the mean and with its spread. */
export function EyePicture({ eye }: { eye: PracticeEye }) {
  const at = (turns: number, r: number) => {
    const a = turns * 2 * Math.PI - Math.PI / 2;
    return `${(60 + r * Math.cos(a)).toFixed(2)} ${(60 + r * Math.sin(a)).toFixed(2)}`;
  };
  const low = eye.bias - 2 * eye.spread;
  const high = eye.bias + 2 * eye.spread;
  return (
    <svg viewBox="0 0 120 120" className={classes.dial} aria-hidden="true">
      <circle cx="60" cy="60" r="52" className={classes.rim} />
      <path d={`M60 60L${at(low, 50)}A50 50 0 0 1 ${at(high, 50)}Z`} className={classes.spread} />
      <path d="M60 60V10" className={classes.true} />
      <path d={`M60 60L${at(eye.bias, 50)}`} className={classes.read} />
    </svg>
  );
}
