import { Loader, Table, TextInput } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { Link, useParams, useSearchParams } from "react-router";
import { api, type RatioAt, Refused, take, type UnitCompared } from "../api/client";
import { key } from "../api/keys";
import { Band } from "../app/Band";
import { useTitle } from "../app/title";
import { useUnit } from "../benches/useUnit";
import { StateMark } from "../drawing/StateMark";
import { chance, when } from "../format/numbers";
import { SignInFirst } from "../people/SignInFirst";
import classes from "./compare.module.css";
import { Entries } from "./History";

const day = (at: Date) => {
  const two = (n: number) => String(n).padStart(2, "0");
  return `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`;
};

/** The end of a day where this device is; now, where that is today or nothing was said. */
function endOf(text: string | null): Date | undefined {
  if (!text || !/^\d{4}-\d{2}-\d{2}$/.test(text)) return undefined;
  const [y, m, d] = text.split("-").map(Number) as [number, number, number];
  const end = new Date(y, m - 1, d, 23, 59, 59, 999);
  return Number.isNaN(end.getTime()) ? undefined : end;
}

/** What was known of a unit at the end of one day, against another. */
export function ComparePage() {
  const id = Number(useParams().id);
  const { unit, error } = useUnit(id);
  const [query, setQuery] = useSearchParams();
  useTitle(unit && `${unit.name}: two dates`);
  const today = day(new Date());
  const monthAgo = day(new Date(Date.now() - 30 * 86_400_000));
  const from = query.get("from") ?? monthAgo;
  const to = query.get("to") ?? today;
  const start = endOf(from);
  const end = to === today ? undefined : endOf(to);
  const ask = { from: start?.toISOString() ?? "", to: end?.toISOString() };
  const both = useQuery({
    queryKey: key.history(id, "compare", from, to),
    queryFn: () => take(api.GET("/units/{id}/compare", { params: { path: { id }, query: ask } })),
    enabled: Boolean(start),
    retry: false,
  });
  if (error) return <SignInFirst error={error} />;
  if (!unit) return <Loader m="xl" />;
  const set = (name: string, value: string) =>
    setQuery(
      (q) => {
        q.set(name, value);
        return q;
      },
      { replace: true },
    );
  const refused = both.error instanceof Refused ? both.error : undefined;
  return (
    <>
      <Band>
        <h1>
          <Link to={`/units/${id}`}>{unit.name}</Link> <span>· two dates</span>
        </h1>
      </Band>
      <main id="main" className="page">
        <div className={classes.dates}>
          <TextInput
            type="date"
            label="As known at the end of"
            value={from}
            max={today}
            onChange={(e) => set("from", e.currentTarget.value)}
            error={start ? (refused?.at("/from") ?? undefined) : "a day is expected"}
          />
          <TextInput
            type="date"
            label="against the end of"
            value={to}
            max={today}
            onChange={(e) => set("to", e.currentTarget.value)}
          />
        </div>
        {both.error && !refused?.at("/from") && <p className="trouble">{both.error.message}</p>}
        {both.data && <Both both={both.data} from={from} to={to === today ? "now" : to} />}
      </main>
    </>
  );
}

function Both({ both, from, to }: { both: UnitCompared; from: string; to: string }) {
  const same = both.ratios.every((r) => !r.differs) && both.parts.length === 0;
  return (
    <>
      <h2>Ratios</h2>
      {both.ratios.length === 0 ? (
        <p className="dim">Nothing was counted or turned by either date.</p>
      ) : (
        <Table.ScrollContainer minWidth={420}>
          <Table>
            <Table.Thead>
              <Table.Tr>
                <Table.Th>Ratio</Table.Th>
                <Table.Th>{from}</Table.Th>
                <Table.Th>{to}</Table.Th>
              </Table.Tr>
            </Table.Thead>
            <Table.Tbody>
              {both.ratios.map((r) => (
                <Table.Tr key={r.stage_id} className={r.differs ? classes.differs : undefined}>
                  <Table.Th scope="row">
                    <Link to={`/stages/${r.stage_id}`}>{r.name}</Link>
                    {r.differs && <small className={classes.mark}>differs</small>}
                  </Table.Th>
                  <Table.Td>
                    <At at={r.before} />
                  </Table.Td>
                  <Table.Td>
                    <At at={r.after} />
                  </Table.Td>
                </Table.Tr>
              ))}
            </Table.Tbody>
          </Table>
        </Table.ScrollContainer>
      )}
      {both.parts.length > 0 && (
        <>
          <h2>Parts</h2>
          <ul className={classes.parts}>
            {both.parts.map((p) => (
              <li key={`${p.part} ${p.what} ${p.says[0] ?? ""}`}>
                <b>{p.name}</b> {p.what === "added" ? "added" : p.what === "taken_out" ? "removed" : p.says.join("; ")}
              </li>
            ))}
          </ul>
        </>
      )}
      {!both.begun && <p>This unit had no driveline on record yet at the end of {from}.</p>}
      {same && both.begun && <p>Nothing that is known of its ratios or parts differs between the two.</p>}
      <h2>History between them</h2>
      {both.history.length === 0 && <p className="dim">Nothing.</p>}
      <Entries entries={both.history} />
      {both.more && (
        <p className="dim">
          More happened between {when(both.from)} and the first line here; the unit's page has it all.
        </p>
      )}
    </>
  );
}

function At({ at }: { at: RatioAt }) {
  if (at.readings === 0) return <span className="dim">not counted</span>;
  return (
    <span className={classes.at}>
      <b>
        {at.label?.label ?? at.about ?? "?"} {at.label && <small>{chance(at.label.probability)}</small>}
      </b>
      {at.trouble ? <small className="trouble">{at.trouble}</small> : <StateMark state={at.state} />}
      <small className="dim">
        {at.readings} {at.readings === 1 ? "reading" : "readings"}
      </small>
    </span>
  );
}
