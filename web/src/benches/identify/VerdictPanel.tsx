import { Button, Chip, Popover, SegmentedControl, Table, TextInput, UnstyledButton } from "@mantine/core";
import { IconArrowRight, IconChevronDown } from "@tabler/icons-react";
import clsx from "clsx";
import { type ReactNode, useRef, useState, useSyncExternalStore } from "react";
import { type Option, type Order, type Plan, type Situation, type Verdict, weighedHere } from "../../api/client";
import { RatioRule } from "../../drawing/RatioRule";
import { StateMark } from "../../drawing/StateMark";
import { chance, fixed, fraction, label, minutes, teethPair, typed } from "../../format/numbers";
import { memberWords, optionKey } from "../../format/words";
import { InSight } from "../answer";
import classes from "./identify.module.css";
import { methods } from "./methods";

export type Money = { price: string; wrong: string; labor: string };

/** The typed amounts as an order, once a price is there. */
export function readMoney(m: Money, goal: Plan["goal"]): Order | undefined {
  const price = typed(m.price);
  if (price === undefined || Number.isNaN(price)) return undefined;
  const some = (s: string) => {
    const n = typed(s);
    return n === undefined || Number.isNaN(n) || n <= 0 ? undefined : n;
  };
  return { goal, price, wrong_cost: some(m.wrong), labor_per_hour: some(m.labor) };
}

type Props = {
  /** Shown under the verdict. */
  below?: ReactNode;
  verdict?: Verdict;
  error?: string;
  names: Map<string, string>;
  /** A reading on record can't be weighed. */
  broken: boolean;
  hidden: boolean;
  goal: Plan["goal"];
  onGoal: (g: Plan["goal"]) => void;
  /** What can be the case at this kind of part, in its words. */
  situations: { key: string; words: string }[];
  situation: Situation;
  onSituation: (s: Situation) => void;
  money: Money;
  onMoney: (m: Money) => void;
  onOption: (o: Option) => void;
  onExplain: () => void;
};

/** What it means: the verdict, seen on the rule, and what to do next. */
export function VerdictPanel(p: Props) {
  const v = p.verdict;
  const plate = useRef<HTMLDivElement>(null);
  const here = useSyncExternalStore(weighedHere.watch, weighedHere.get);
  if (p.hidden) {
    return (
      <section className={classes.verdict} aria-label="Verdict">
        <div className={classes.blindfold}>
          <b>Counting blind</b>
          <span>The verdict and the other readings come back when you save this one.</span>
        </div>
      </section>
    );
  }
  return (
    <section className={classes.verdict} aria-label="Verdict">
      {p.error && <p className="trouble">{p.error}</p>}
      {here && v && (
        <p className="dim" role="status">
          Worked out on this device: the server can't be reached, so the shop's own gear list is not used.
        </p>
      )}
      <div ref={plate}>
        {v?.headline && (
          <span
            hidden
            data-says
          >{`${v.headline.sentence} ${v.next.find((n) => n.goal === p.goal)?.sentence ?? ""}`}</span>
        )}
        {v?.best && v.headline ? <Plate verdict={v} onExplain={p.onExplain} /> : <Blank broken={p.broken} />}
      </div>
      <InSight of={plate} />
      {v?.best && <RatioRule verdict={v} names={p.names} />}
      {v && v.checks.length > 0 && (
        <ul className={classes.checks}>
          {v.checks.map((c) => (
            <li key={c.field + c.message}>
              <b>{memberWords[c.field] ?? c.field}:</b> {c.message}
            </li>
          ))}
        </ul>
      )}
      {v && <NextStep {...p} plan={v.next.find((n) => n.goal === p.goal)} />}
      {v?.best && <OrderGate {...p} />}
      {p.below}
    </section>
  );
}

function Blank({ broken }: { broken: boolean }) {
  if (broken)
    return (
      <div data-part="plate" className={clsx(classes.plate, classes.blank)}>
        <span className={classes.plateLabel} data-part="ratio">
          ?
        </span>
        <div>
          <b>Can't be used</b>
          <div>Void the reading that can't be right; the verdict then goes by the others.</div>
        </div>
      </div>
    );
  return (
    <div data-part="plate" className={clsx(classes.plate, classes.blank)}>
      <span className={classes.plateLabel} data-part="ratio">
        ?
      </span>
      <div>
        <b>Nothing measured yet</b>
        <div>The ratio appears here with your first reading.</div>
      </div>
    </div>
  );
}

function Plate({ verdict: v, onExplain }: { verdict: Verdict; onExplain: () => void }) {
  if (!v.best || !v.headline) return null;
  const best = v.best;
  if (!v.label) return <RangePlate verdict={v} headline={v.headline} onExplain={onExplain} />;
  return (
    <div data-part="plate" className={clsx(classes.plate, `is-${v.state}`)}>
      <UnstyledButton
        className={classes.plateLabel}
        data-part="ratio"
        onClick={onExplain}
        title="Where this comes from (E)"
      >
        {label(v.label.label)}
      </UnstyledButton>
      <UnstyledButton className={classes.plateNumbers} onClick={onExplain} title="Where this comes from (E)">
        <span>
          <b>{chance(v.label.probability)}</b>
        </span>
        <StateMark state={v.state} />
      </UnstyledButton>
      <UnstyledButton className={classes.platePair} onClick={onExplain} title="Where this comes from (E)">
        <b>{best.build.teeth.length ? teethPair(best.build.teeth) : "direct"}</b>
        <span>
          {fraction(best.build.ratio)} = {fixed(best.build.ratio.decimal, 4)}
        </span>
        <span>
          {chance(best.probability)} for these very counts
          {best.hunting && ` · ${best.hunting}${best.timing_marks ? ": assemble on its timing marks" : ""}`}
        </span>
      </UnstyledButton>
      {(v.note || v.rival || v.headline.outside.length > 0) && (
        <div className={classes.plateNote}>
          {v.headline.outside.length > 0 && <span>{v.headline.sentence.slice(v.headline.text.length + 2)} </span>}
          {v.rival && (
            <span>
              Most likely single set under another label: {teethPair(v.rival.build.teeth)} ={" "}
              {label(v.rival.build.ratio.label)} with {chance(v.rival.probability)}.{" "}
            </span>
          )}
          {v.note}
        </div>
      )}
    </div>
  );
}

/** No label has half of the chance: the range, and what is installed. */
function RangePlate({
  verdict: v,
  headline: h,
  onExplain,
}: {
  verdict: Verdict;
  headline: NonNullable<Verdict["headline"]>;
  onExplain: () => void;
}) {
  return (
    <div data-part="plate" className={clsx(classes.plate, "is-range", `is-${v.state}`)}>
      <UnstyledButton
        className={classes.plateLabel}
        data-part="ratio"
        onClick={onExplain}
        title="Where this comes from (E)"
      >
        {h.text}
      </UnstyledButton>
      <UnstyledButton className={classes.platePair} onClick={onExplain} title="Where this comes from (E)">
        <span>{h.sentence.replace(/^About [\d.]+ \((.*?)\)/, "$1")}</span>
        <StateMark state={v.state} />
      </UnstyledButton>
      {v.note && <div className={classes.plateNote}>{v.note}</div>}
    </div>
  );
}

function NextStep({ plan, goal, onGoal, situations, situation, onSituation, onOption }: Props & { plan?: Plan }) {
  const [open, setOpen] = useState(false);
  if (!plan) return null;
  const [first, ...others] = plan.options;
  return (
    <div className={classes.next}>
      <div className="row spread">
        <p className={classes.nextSentence}>{plan.sentence}</p>
        <SegmentedControl
          size="xs"
          aria-label="What do you want to settle?"
          value={goal}
          onChange={(g) => onGoal(g as Plan["goal"])}
          data={[
            { value: "label", label: "Ratio" },
            { value: "pair", label: "Exact counts" },
          ]}
        />
      </div>
      <div className="row wrap">
        {first && (
          <Button
            size="md"
            color="brass.4"
            autoContrast
            variant={plan.settled ? "default" : "filled"}
            rightSection={<IconArrowRight size={18} />}
            onClick={() => onOption(first)}
          >
            {plan.settled ? "Check again: " : "Start: "}
            {methods[first.method].name.toLowerCase()}
          </Button>
        )}
        {others.length > 0 && (
          <Popover opened={open} onChange={setOpen} width={520} position="top-start">
            <Popover.Target>
              <Button variant="subtle" rightSection={<IconChevronDown size={16} />} onClick={() => setOpen(!open)}>
                Other ways
              </Button>
            </Popover.Target>
            <Popover.Dropdown>
              <Table>
                <Table.Thead>
                  <Table.Tr>
                    <Table.Th>Measurement</Table.Th>
                    <Table.Th>Takes</Table.Th>
                    <Table.Th>Settles it</Table.Th>
                    <Table.Th>Until settled</Table.Th>
                  </Table.Tr>
                </Table.Thead>
                <Table.Tbody>
                  {plan.options.map((o) => (
                    <Table.Tr key={optionKey(o)}>
                      <Table.Td>
                        <UnstyledButton
                          className="linklike"
                          onClick={() => {
                            setOpen(false);
                            onOption(o);
                          }}
                        >
                          {o.do}
                        </UnstyledButton>
                      </Table.Td>
                      <Table.Td className="num">{minutes(o.minutes)}</Table.Td>
                      <Table.Td className="num">{Math.round(o.settles * 100)} %</Table.Td>
                      <Table.Td className="num">{minutes(o.total)}</Table.Td>
                    </Table.Tr>
                  ))}
                </Table.Tbody>
              </Table>
            </Popover.Dropdown>
          </Popover>
        )}
        <span className="grow" />
        {situations.map((s) => (
          <Chip
            key={s.key}
            size="xs"
            variant="outline"
            checked={situation[s.key as keyof Situation] ?? false}
            onChange={(on) => onSituation({ ...situation, [s.key]: on || undefined })}
          >
            {s.words}
          </Chip>
        ))}
      </div>
    </div>
  );
}

function OrderGate({ verdict: v, money, onMoney, onExplain }: Props) {
  const [open, setOpen] = useState(money.price !== "");
  const set = (m: Partial<Money>) => onMoney({ ...money, ...m });
  const bad = (s: string) => {
    const n = typed(s);
    return n !== undefined && (Number.isNaN(n) || n < 0) ? "an amount, 0 or more" : undefined;
  };
  const g = v?.gate;
  return (
    <details className={classes.order} open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>Before you order: are we sure enough?</summary>
      <div className="row wrap top">
        <TextInput
          label="Price of the set"
          inputMode="decimal"
          value={money.price}
          onChange={(e) => set({ price: e.currentTarget.value })}
          error={bad(money.price)}
        />
        <TextInput
          label="A wrong set costs"
          placeholder="the price"
          inputMode="decimal"
          value={money.wrong}
          onChange={(e) => set({ wrong: e.currentTarget.value })}
          error={bad(money.wrong)}
        />
        <TextInput
          label="Labor per hour"
          inputMode="decimal"
          value={money.labor}
          onChange={(e) => set({ labor: e.currentTarget.value })}
          error={bad(money.labor)}
        />
        {g && (
          <div className={clsx(classes.gate, g.measure_first && classes.stop)}>
            <b>{g.sentence}</b>
            {g.origin.map((o) => (
              <UnstyledButton key={o} onClick={onExplain}>
                {o}
              </UnstyledButton>
            ))}
            <small className="dim">The maker's catalog decides what fits; a qualified person orders.</small>
          </div>
        )}
      </div>
    </details>
  );
}
