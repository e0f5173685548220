import { Button, Drawer, Table } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { api, take, type Verdict } from "../../api/client";
import { key } from "../../api/keys";
import { chance, fixed, fraction, percent, teethPair } from "../../format/numbers";
import classes from "./identify.module.css";
import { methods } from "./methods";

const factor = (f: number) => (f >= 0.095 ? fixed(f, 2) : f === 0 ? "0" : f.toExponential(0).replace("e-", " × 10⁻"));

/** What the table leaves out, and a way to see it. */
function LeftOut({ verdict: v, all, onAll }: { verdict: Verdict; all: boolean; onAll: () => void }) {
  const shown = all ? v.candidates : v.candidates.slice(0, 12);
  const more = v.candidates.length - shown.length + v.unlisted.count;
  const share = Math.max(0, 1 - shown.reduce((sum, c) => sum + c.probability, 0));
  if (more === 0) return <p className="dim">These are all sets that have at least one chance in a million.</p>;
  return (
    <p>
      {more.toLocaleString()} more {more === 1 ? "set" : "sets"} with at least one chance in a million make up{" "}
      {percent(share)} together.{" "}
      {!all && (
        <Button size="compact-xs" variant="light" onClick={onAll}>
          Show {more > 1000 ? "a thousand" : "them"}
        </Button>
      )}
    </p>
  );
}

/** The ratio itself, and what its label's chance adds up. */
function TheRatio({ v, best }: { v: Verdict; best: NonNullable<Verdict["best"]> }) {
  return (
    <section>
      <h2>The ratio</h2>
      <p>
        {v.formula}
        {best.build.teeth.length > 0 && `: ${teethPair(best.build.teeth)}`} = {fraction(best.build.ratio)} ={" "}
        {fixed(best.build.ratio.decimal, 4)}, label {best.build.ratio.label}.
      </p>
      {v.label && (
        <p>
          {v.label.label}: {chance(v.label.probability)}, the sum over every set of tooth counts that is called so:
          worked out with the weights below and again with every set alike; the lower of the two is used.
        </p>
      )}
    </section>
  );
}

/** What each reading said, and the range of the turned ones together. */
function EachReading({ v }: { v: Verdict }) {
  return (
    <section>
      <h2>Each reading</h2>
      {v.findings.map((f) => (
        <div key={f.reading_id} className="origin">
          <b>{methods[f.method].name}</b>: {f.summary}
          <ul>
            {f.origin.map((o) => (
              <li key={o}>{o}</li>
            ))}
            <li>
              right as read with {percent(f.right)}
              {f.agreement !== "agrees" && `; if not, most likely: ${f.reason}`}
            </li>
          </ul>
        </div>
      ))}
      {v.turns_interval && (
        <p>
          The turned readings alone allow {fixed(v.turns_interval.low, 3)} to {fixed(v.turns_interval.high, 3)} (95 % of
          such readings, if no turn was lost): the mean of {v.turns_interval.used.length} weighted by precision
          {v.turns_interval.left_out.length > 0 &&
            `, ${v.turns_interval.left_out.length} left out because they don't fit the others`}
          .
        </p>
      )}
    </section>
  );
}

/** How the sets compare: before, by each reading, now. */
function Sets({ v, all, onAll }: { v: Verdict; all: boolean; onAll: () => void }) {
  return (
    <section>
      <h2>How the sets compare</h2>
      <p>
        {v.weighed.toLocaleString()} buildable sets were weighed. Before any reading: {v.prior.origin.join("; ")}.
        {v.from_catalog > 0 && " ★ is in the shop's list."} ● is commonly made. Probability = before any reading × how
        well it explains each reading, scaled so that all add up to one. A reading's column shows that fit against the
        best set's.
      </p>
      <div className="scroll">
        <Table striped>
          <Table.Thead>
            <Table.Tr>
              <Table.Th>Set</Table.Th>
              <Table.Th>Ratio</Table.Th>
              <Table.Th>Before</Table.Th>
              {v.findings.map((f, i) => (
                <Table.Th key={f.reading_id} title={f.summary}>
                  {methods[f.method].name} {i + 1}
                </Table.Th>
              ))}
              <Table.Th>Now</Table.Th>
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            {v.candidates.slice(0, all ? undefined : 12).map((c) => (
              <Table.Tr key={`${c.build.construction}${teethPair(c.build.teeth)}`}>
                <Table.Td>
                  {teethPair(c.build.teeth) || "direct"} {c.in_catalog ? "★" : c.common ? "●" : ""}
                </Table.Td>
                <Table.Td>{fixed(c.build.ratio.decimal, 4)}</Table.Td>
                <Table.Td>{(c.prior * 100).toPrecision(2)} %</Table.Td>
                {c.factors.map((f, i) => (
                  <Table.Td key={v.findings[i]?.reading_id ?? i}>{factor(f)}</Table.Td>
                ))}
                <Table.Td>{percent(c.probability)}</Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      </div>
      <LeftOut verdict={v} all={all} onAll={onAll} />
    </section>
  );
}

type Props = {
  verdict?: Verdict;
  opened: boolean;
  onClose: () => void;
  /** Every candidate was asked for, not only the likeliest. */
  all: boolean;
  onAll: () => void;
};

/** Where every number comes from: formula, arithmetic, weights, error models. */
export function Explain({ verdict: v, opened, onClose, all, onAll }: Props) {
  const knowledge = useQuery({
    queryKey: key.knowledge(),
    queryFn: () => take(api.GET("/calc/knowledge")),
    enabled: opened,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const used = new Set(v?.findings.map((f) => f.method as string));
  const models = knowledge.data?.models.filter((m) => m.method === "" || used.has(m.method)) ?? [];
  return (
    <Drawer opened={opened} onClose={onClose} position="right" size="xl" title="Where the numbers come from">
      {v?.best ? (
        <div className={classes.explain} data-part="explain">
          <TheRatio v={v} best={v.best} />
          <EachReading v={v} />
          <Sets v={v} all={all} onAll={onAll} />
          <section>
            <h2>Which mistakes are allowed for</h2>
            <Table>
              <Table.Tbody>
                {models.map((m) => (
                  <Table.Tr key={m.method + m.what}>
                    <Table.Td>{m.what}</Table.Td>
                    <Table.Td className="num">{m.value}</Table.Td>
                  </Table.Tr>
                ))}
              </Table.Tbody>
            </Table>
          </section>
        </div>
      ) : (
        <p>Nothing measured yet, so there is nothing to explain.</p>
      )}
    </Drawer>
  );
}
