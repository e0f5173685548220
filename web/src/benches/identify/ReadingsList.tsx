import { Button, Modal, TextInput, UnstyledButton } from "@mantine/core";
import { type FormEvent, type ReactNode, useState } from "react";
import type { Finding } from "../../api/client";
import { fixed, when } from "../../format/numbers";
import { Signed } from "../../format/Signed";
import classes from "./identify.module.css";
import { methods } from "./methods";
import type { BenchReading } from "./model";

const signs = { agrees: "✓", doubtful: "?", disagrees: "≠" } as const;

/** Readings: every reading with who and when, and how it stands to the rest. */
export function ReadingsList({
  readings,
  findings,
  maySave,
  onStrike,
  onExplain,
  onAgain,
  evidence,
}: {
  readings: BenchReading[];
  findings: Map<string, Finding>;
  maySave: boolean;
  onStrike: (r: BenchReading, reason: string) => void;
  onExplain: () => void;
  /** Opens the reading's method to take it again, blind. */
  onAgain?: (r: BenchReading) => void;
  /** What stands beside a reading as its evidence. */
  evidence?: (r: BenchReading) => ReactNode;
}) {
  const [striking, setStriking] = useState<BenchReading>();
  if (readings.length === 0) return <p className="dim">No reading yet. Start with whatever is quickest.</p>;
  return (
    <>
      <ul className={classes.readings} data-part="readings">
        {readings.map((r, i) => {
          const aside = Boolean(r.struck) || r.former;
          const f = aside ? undefined : findings.get(r.key);
          const says = f?.says ? fixed(f.says, r.reading.method === "teeth" ? 4 : 3) : "";
          return (
            <li key={r.key} className={r.struck ? "struck" : r.former ? "aside" : (f?.agreement ?? "")}>
              <span className="sign" title={f?.agreement}>
                {aside ? "—" : f ? signs[f.agreement] : "·"}
              </span>
              <div className="grow">
                <b>
                  {i + 1} {methods[r.reading.method].name}
                </b>{" "}
                {r.blind && <small className="tagged">blind</small>}
                {r.id === undefined && <small className="tagged">on this device</small>}
                <div className="what">{r.summary ?? f?.summary}</div>
                {f && f.agreement !== "agrees" && <div className="reason">{f.reason}</div>}
                {r.struck && (
                  <div className="reason">
                    voided{r.struck.by ? ` by ${r.struck.by}` : ""}, {when(r.struck.at)}: {r.struck.reason}
                  </div>
                )}
                {r.former && <div className="reason">taken on the gears fitted before; no longer counts</div>}
                {r.refused && <div className="reason">Not saved: {r.refused}</div>}
                <small className="dim">
                  <Signed by={r.by} at={r.at} takenIn={r.takenIn} />
                  {r.note ? ` · ${r.note}` : ""}
                </small>
                {evidence?.(r)}
                {!r.takenIn && methods[r.reading.method].evidence?.(r.reading)}
              </div>
              <div className="right">
                {says && (
                  <UnstyledButton className="num" onClick={onExplain} title="Where this comes from">
                    {says}
                  </UnstyledButton>
                )}
                {f && f.right < 0.93 && <small className="dim">{f.right < 0.5 ? "doubtful" : "probably right"}</small>}
                {f?.recount && onAgain && (
                  <Button size="compact-xs" variant="light" title={f.recount} onClick={() => onAgain(r)}>
                    Again, blind
                  </Button>
                )}
                {!aside && (maySave || r.id === undefined) && (
                  <Button size="compact-xs" variant="subtle" color="gray" onClick={() => setStriking(r)}>
                    Void
                  </Button>
                )}
              </div>
            </li>
          );
        })}
      </ul>
      {striking && (
        <StrikeDialog
          reading={striking}
          finding={findings.get(striking.key)}
          onClose={() => setStriking(undefined)}
          onStrike={(reason) => {
            onStrike(striking, reason);
            setStriking(undefined);
          }}
        />
      )}
    </>
  );
}

function StrikeDialog({
  reading,
  finding,
  onClose,
  onStrike,
}: {
  reading: BenchReading;
  finding?: Finding;
  onClose: () => void;
  onStrike: (reason: string) => void;
}) {
  const [reason, setReason] = useState(finding && finding.agreement !== "agrees" ? finding.reason : "");
  const submit = (e: FormEvent) => {
    e.preventDefault();
    if (reason.trim()) onStrike(reason.trim());
  };
  return (
    <Modal opened onClose={onClose} title="Void this reading">
      <form onSubmit={submit} className="stack">
        <p>
          {reading.summary ?? finding?.summary}. It stays on record, crossed out, and no longer counts in the verdict.
        </p>
        <TextInput
          label="Why"
          value={reason}
          maxLength={400}
          onChange={(e) => setReason(e.currentTarget.value)}
          data-autofocus
          required
        />
        <div className="row">
          <Button type="submit" color="red" disabled={!reason.trim()}>
            Void
          </Button>
          <Button variant="subtle" onClick={onClose}>
            Keep it
          </Button>
        </div>
      </form>
    </Modal>
  );
}
