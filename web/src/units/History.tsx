import { Button } from "@mantine/core";
import { useInfiniteQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useLocation } from "react-router";
import { api, type HistoryEntry, take } from "../api/client";
import { key } from "../api/keys";
import { benches } from "../benches/registry";
import { Signed } from "../format/Signed";

const marks: Partial<Record<HistoryEntry["what"], string>> = Object.assign(
  { unit_added: "+", unit_changed: "✎", stage_added: "+", stage_removed: "−", fitting: "⇄" },
  ...benches.map((b) => b.records),
);

/** Lines of a history that are asked for at once, as the server tells them. */
const atOnce = 1000;

/** Everything that happened to a unit. Each line has an address of its own. */
export function History({ unit }: { unit: number }) {
  const { hash } = useLocation();
  const history = useInfiniteQuery({
    queryKey: key.history(unit),
    queryFn: ({ pageParam }) =>
      take(
        api.GET("/units/{id}/history", {
          params: { path: { id: unit }, query: pageParam ? { before: pageParam } : {} },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last) => (last.length < atOnce ? undefined : last.at(-1)?.id),
  });
  const entries = history.data?.pages.flat() ?? [];
  const there = entries.length > 0;
  useEffect(() => {
    if (there && hash.startsWith("#entry-"))
      document.getElementById(hash.slice(1))?.scrollIntoView({ block: "center" });
  }, [there, hash]);
  return (
    <>
      <div className="row spread">
        <h2>History</h2>
        <Link className="no-print" to={`/units/${unit}/compare`}>
          Compare two dates
        </Link>
      </div>
      <Entries entries={entries} here={hash} />
      {history.hasNextPage && (
        <Button variant="default" loading={history.isFetchingNextPage} onClick={() => void history.fetchNextPage()}>
          Show earlier
        </Button>
      )}
    </>
  );
}

export function Entries({ entries, here }: { entries: HistoryEntry[]; here?: string }) {
  return (
    <ol className="history">
      {entries.map((e) => (
        <li
          key={e.id}
          id={`entry-${e.id}`}
          className={here === `#entry-${e.id}` ? `${e.what} is-here` : e.what}
          aria-current={here === `#entry-${e.id}` || undefined}
        >
          <span className="mark" aria-hidden="true">
            {marks[e.what]}
          </span>
          <div>
            <div>
              {e.stage && e.what !== "stage_added" && e.what !== "stage_removed" && (
                <>
                  {e.stage_id ? <Link to={`/stages/${e.stage_id}`}>{e.stage}</Link> : e.stage}
                  {": "}
                </>
              )}
              {e.text}
            </div>
            <small className="dim">
              <Signed by={e.by} at={e.at} takenIn={e.taken_in} />
              {here !== undefined && (
                <span className="no-print">
                  {" · "}
                  <Link to={`#entry-${e.id}`}>link</Link>
                </span>
              )}
            </small>
          </div>
        </li>
      ))}
    </ol>
  );
}
