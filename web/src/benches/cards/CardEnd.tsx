import { Button } from "@mantine/core";
import { IconPrinter } from "@tabler/icons-react";
import { type CardRun, reason } from "../../api/client";
import { when } from "../../format/numbers";
import classes from "./cards.module.css";
import type { useRun } from "./useRun";

type Props = { run: CardRun; open: boolean; close: ReturnType<typeof useRun>["close"] };

/** Closing and printing a card, and what is missing before. */
export function CardEnd({ run: r, open, close }: Props) {
  const s = r.sheet;
  return (
    <div className={`row wrap no-print ${classes.end}`}>
      {open && (
        <Button
          variant={s.ready ? "filled" : "default"}
          disabled={!s.ready}
          loading={close.isPending}
          onClick={() => close.mutate()}
        >
          Close the card
        </Button>
      )}
      {!s.ready && s.done === s.of && <span className="dim">Still: {s.missing.join("; ")}.</span>}
      {r.closed_at && (
        <span>
          Closed by {r.closed_by}, {when(r.closed_at)}.
        </span>
      )}
      <Button
        variant="default"
        leftSection={<IconPrinter size={16} />}
        component="a"
        href={`/api/v1/card-runs/${r.id}/pdf`}
        target="_blank"
      >
        Print
      </Button>
      {close.error && <span className="trouble">{reason(close.error)}</span>}
    </div>
  );
}
