import { Table } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, type PracticeClass, take } from "../../api/client";
import { key } from "../../api/keys";
import { Band } from "../../app/Band";
import { useTitle } from "../../app/title";
import { Waiting } from "../../app/Waiting";
import { SignInFirst } from "../../people/SignInFirst";
import classes from "./practice.module.css";

/** How the class does: without names, and by name those who share. */
export function ClassPage() {
  useTitle("The class", "Practice");
  const { data, error } = useQuery({
    queryKey: key.practice("class"),
    queryFn: () => take(api.GET("/practice/class")),
  });
  if (error) return <SignInFirst error={error} />;
  return (
    <>
      <Band>
        <h1>
          <Link to="/practice">Practice</Link>
          <span> · the class</span>
        </h1>
        {data && <p>{data.people === 1 ? "1 person has practiced." : `${data.people} people have practiced.`}</p>}
      </Band>
      <main id="main" className="page">
        {data ? <Class data={data} /> : <Waiting title="The class" missing={[]} error={null} />}
      </main>
    </>
  );
}

function Class({ data }: { data: PracticeClass }) {
  return (
    <div className={classes.board}>
      <section aria-labelledby="levels">
        <h2 id="levels">Who mastered what, without names</h2>
        {data.skills.length === 0 ? (
          <p>Shown once three people have practiced: with fewer, everybody would know who it is.</p>
        ) : (
          // biome-ignore lint/a11y/noNoninteractiveTabindex: a table that scrolls is scrolled by keys
          <section className={classes.scroll} tabIndex={0} aria-label="Levels mastered">
            <Table>
              <Table.Thead>
                <Table.Tr>
                  <Table.Th>Skill</Table.Th>
                  {[1, 2, 3, 4, 5].map((n) => (
                    <Table.Th key={n}>Level {n}</Table.Th>
                  ))}
                </Table.Tr>
              </Table.Thead>
              <Table.Tbody>
                {data.skills.map((s) => (
                  <Table.Tr key={s.title}>
                    <Table.Th scope="row">{s.title}</Table.Th>
                    {[0, 1, 2, 3, 4].map((n) => (
                      <Table.Td key={n}>
                        {s.mastered[n] === undefined ? "" : `${s.mastered[n]} of ${data.people}`}
                      </Table.Td>
                    ))}
                  </Table.Tr>
                ))}
              </Table.Tbody>
            </Table>
          </section>
        )}
      </section>
      {data.weak.length > 0 && (
        <section aria-labelledby="weak">
          <h2 id="weak">What mistakes ask for most</h2>
          <ol>
            {data.weak.map((w) => (
              <li key={w.drill}>
                {w.title}: {w.times === 1 ? "once" : `${w.times} times`}
              </li>
            ))}
          </ol>
        </section>
      )}
      <section aria-labelledby="shared">
        <h2 id="shared">Who shares with you</h2>
        {data.shared.length === 0 ? (
          <p>Nobody shares yet. Everybody decides for himself, on his own board.</p>
        ) : (
          <ul className={classes.drills}>
            {data.shared.map((l) => (
              <li key={l.name}>
                <span>
                  <b>{l.name}</b>
                  {l.board.eye && <small>{l.board.eye.sentence}</small>}
                </span>
                <span>
                  {l.board.mastered} of {l.board.levels} levels
                </span>
              </li>
            ))}
          </ul>
        )}
      </section>
    </div>
  );
}
