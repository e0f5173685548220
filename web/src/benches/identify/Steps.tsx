import { IconAlertTriangle } from "@tabler/icons-react";
import type { Step } from "./methods/method";

/** The steps of a method, each with its caution where it has one. */
export function Steps({ steps }: { steps: Step[] }) {
  return (
    <ol>
      {steps.map((s) => (
        <li key={s.text}>
          {s.text}
          {s.caution && (
            <span className="caution">
              <IconAlertTriangle size={15} aria-label="Caution:" /> {s.caution}
            </span>
          )}
        </li>
      ))}
    </ol>
  );
}
