import { TextInput } from "@mantine/core";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { Band } from "../app/Band";
import { useTitle } from "../app/title";
import { chapters } from "./terms";
import classes from "./words.module.css";

const holds = (text: string, sought: string) => text.toLowerCase().includes(sought.trim().toLowerCase());

/** The words of the trade, each with a picture and a sentence. */
export function WordsPage() {
  useTitle("Words");
  const [query] = useSearchParams();
  const [sought, setSought] = useState(query.get("find") ?? "");
  const found = chapters
    .map((c) => ({ ...c, terms: c.terms.filter((t) => holds(`${t.term} ${t.also ?? ""} ${t.means}`, sought)) }))
    .filter((c) => c.terms.length > 0);
  return (
    <>
      <Band>
        <h1>Words of the trade</h1>
      </Band>
      <main id="main" className="page wide">
        <TextInput
          label="Find a word"
          className={classes.find}
          value={sought}
          onChange={(e) => setSought(e.currentTarget.value)}
        />
        {found.length === 0 && <p role="status">No word here matches "{sought}". Try another name for it.</p>}
        {found.map((c) => (
          <section key={c.name}>
            <h2>{c.name}</h2>
            <dl className={classes.terms}>
              {c.terms.map((t) => (
                <div key={t.term}>
                  <svg viewBox="0 0 120 80" className="glyph" aria-hidden="true">
                    {t.picture}
                  </svg>
                  <dt>{t.term}</dt>
                  <dd>
                    {t.means}
                    {t.also && <small>Also called: {t.also}.</small>}
                  </dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      </main>
    </>
  );
}
