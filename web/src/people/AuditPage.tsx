import { Button, Loader } from "@mantine/core";
import { useInfiniteQuery } from "@tanstack/react-query";
import { blocking } from "../api/blocking";
import { api, take } from "../api/client";
import { key } from "../api/keys";
import { Band } from "../app/Band";
import { useTitle } from "../app/title";
import { when } from "../format/numbers";
import { SignInFirst } from "./SignInFirst";

/** For the owner: who signed in, took data out or changed an account. */
export function AuditPage() {
  useTitle("Sign-ins and exports");
  const list = useInfiniteQuery({
    queryKey: key.audit(),
    queryFn: ({ pageParam }) => take(api.GET("/audit", { params: { query: { before: pageParam } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => (last.more ? last.lines.at(-1)?.id : undefined),
  });
  const stop = blocking(list);
  if (stop) return <SignInFirst error={stop} />;
  const lines = list.data?.pages.flatMap((p) => p.lines);
  return (
    <>
      <Band>
        <h1>Sign-ins and exports</h1>
      </Band>
      <main id="main" className="page">
        <p className="dim">
          Who signed in, exported, imported or changed an account, newest first. Lines stay for two years.
        </p>
        {!lines && <Loader m="xl" />}
        {lines?.length === 0 && <p>Nothing yet. The next sign-in shows here.</p>}
        {lines && lines.length > 0 && (
          <div className="scroll">
            <table className="figures">
              <thead>
                <tr>
                  <th>When</th>
                  <th>Who</th>
                  <th>What</th>
                  <th>About</th>
                  <th>Address</th>
                </tr>
              </thead>
              <tbody>
                {lines.map((l) => (
                  <tr key={l.id}>
                    <td>{when(l.at)}</td>
                    <td>{l.who || "nobody signed in"}</td>
                    <td>{l.what}</td>
                    <td>{l.about}</td>
                    <td>{l.address}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
        {list.hasNextPage && (
          <Button variant="default" loading={list.isFetchingNextPage} onClick={() => void list.fetchNextPage()}>
            Show older
          </Button>
        )}
      </main>
    </>
  );
}
