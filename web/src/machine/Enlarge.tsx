import { ActionIcon } from "@mantine/core";
import { IconZoomIn, IconZoomOut } from "@tabler/icons-react";
import { type ReactNode, useState } from "react";
import classes from "./enlarge.module.css";

/** What is drawn small on a phone: two taps, or the glass in the corner, show it twice as large, and whole again. */
export function Enlarge({ children }: { children: ReactNode }) {
  const [large, setLarge] = useState(false);
  return (
    <div>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the button in the corner does the same by keyboard */}
      <div
        className={classes.pan}
        data-large={large || undefined}
        onDoubleClick={(e) => {
          if (!(e.target as Element).closest("button, select, label, input")) setLarge(!large);
        }}
      >
        <div className={classes.sheet}>{children}</div>
      </div>
      <ActionIcon
        variant="default"
        className={classes.glass}
        aria-label={large ? "Show the whole machine" : "Enlarge the machine"}
        onClick={() => setLarge(!large)}
      >
        {large ? <IconZoomOut size={20} /> : <IconZoomIn size={20} />}
      </ActionIcon>
    </div>
  );
}
