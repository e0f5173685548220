import { Loader } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { blocking } from "../api/blocking";
import { api, type Experience, take } from "../api/client";
import { key } from "../api/keys";
import { Band } from "../app/Band";
import { useSession } from "../app/session";
import { useTitle } from "../app/title";
import { SignInFirst } from "../people/SignInFirst";
import { ExperienceWeights } from "./ExperienceWeights";
import classes from "./files.module.css";
import { GiveExperience, TakeExperience } from "./GiveAndTake";
import { ShopsOfExperience } from "./ShopsOfExperience";

/** What other shops found and what it weighs here; what this shop found, to give away. */
export function ExperiencePage() {
  useTitle("Other shops' experience");
  const owner = useSession().data?.person?.role === "owner";
  const all = useQuery({ queryKey: key.experience(), queryFn: () => take(api.GET("/experience")) });
  const stop = blocking(all);
  if (stop) return <SignInFirst error={stop} />;
  return (
    <>
      <Band>
        <h1>Other shops' experience</h1>
      </Band>
      <main id="main" className="page">
        <p>
          What breaks, and which gears are in which housing, is much the same from shop to shop. Shops give each other
          counts in an open file: parts and faults only, no customers and no units.
        </p>
        {all.data ? <Shown all={all.data} owner={owner} /> : <Loader m="xl" />}
      </main>
    </>
  );
}

function Shown({ all, owner }: { all: Experience; owner: boolean }) {
  return (
    <>
      {owner && <GiveExperience own={all.own} />}
      {owner && <TakeExperience />}
      <ShopsOfExperience shops={all.shops} owner={owner} />
      {all.shops.length > 0 && <ExperienceWeights all={all} />}
      <section className={classes.section}>
        <h2>How it is used</h2>
        <ul>
          {all.rules.map((r) => (
            <li key={r}>{r}</li>
          ))}
        </ul>
      </section>
    </>
  );
}
