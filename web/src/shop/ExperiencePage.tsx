import { Alert, Button, FileInput, Loader, Modal, TextInput } from "@mantine/core";
import { IconDownload } from "@tabler/icons-react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { blocking } from "../api/blocking";
import { api, type Experience, reason, take } from "../api/client";
import { askAnew, key } from "../api/keys";
import { Band } from "../app/Band";
import { useSession } from "../app/session";
import { useTitle } from "../app/title";
import { day, fixed } from "../format/numbers";
import { questionWords } from "../format/words";
import { SignInFirst } from "../people/SignInFirst";
import classes from "./files.module.css";

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
      {owner && <Give own={all.own} />}
      {owner && <TakeIn />}
      <Shops shops={all.shops} owner={owner} />
      {all.shops.length > 0 && <Weights all={all} />}
      <section className={classes.section}>
        <h2>How it weighs</h2>
        <ul>
          {all.rules.map((r) => (
            <li key={r}>{r}</li>
          ))}
        </ul>
      </section>
    </>
  );
}

type Shop = Experience["own"];

const many = (n: number, one: string, more: string) => `${n.toLocaleString()} ${n === 1 ? one : more}`;

/** What a file holds, in words. */
function holds(s: Shop) {
  const parts = [
    s.counted > 0 && `${many(s.counted, "housing", "housings")} with ${many(s.sets, "gear set", "gear sets")} counted`,
    s.proved > 0 && `${many(s.proved, "fault", "faults")} proved`,
    s.housings > 0 && `${many(s.housings, "set-up", "set-ups")}`,
  ].filter(Boolean);
  return parts.length > 0 ? parts.join(", ") : "nothing yet";
}

function Give({ own }: { own: Shop }) {
  const [name, setName] = useState("");
  const empty = own.counted + own.proved + own.housings === 0;
  const query = name.trim() ? `?name=${encodeURIComponent(name.trim())}` : "";
  return (
    <section className={classes.section}>
      <h2>Export this shop's</h2>
      <p>This shop has: {holds(own)}.</p>
      {empty ? (
        <p>Count teeth, or close a fault with what was found, and there is something to export.</p>
      ) : (
        <div className={classes.send}>
          <TextInput
            label="Shop's name in the file"
            description="May stay empty: then no name goes out"
            maxLength={60}
            w={280}
            value={name}
            onChange={(e) => setName(e.currentTarget.value)}
          />
          <Button
            component="a"
            href={`/api/v1/experience/file${query}`}
            download="experience.json"
            leftSection={<IconDownload size={18} />}
          >
            Export
          </Button>
        </div>
      )}
    </section>
  );
}

/** A file of another shop is looked at before it weighs. */
function useOffer() {
  const client = useQueryClient();
  const send = async (file: File, keep: boolean) => {
    let body: unknown;
    try {
      body = JSON.parse(await file.text());
    } catch {
      throw new Error("This is no experience file: choose the file that the other shop exported.");
    }
    return take(api.POST("/experience", { body: { file: body as never, keep } }));
  };
  const look = useMutation({ mutationFn: (file: File) => send(file, false) });
  const keep = useMutation({
    mutationFn: (file: File) => send(file, true),
    onSuccess: () => {
      look.reset();
      askAnew(client, "everything");
    },
  });
  return { look, keep };
}

function TakeIn() {
  const [file, setFile] = useState<File | null>(null);
  const { look, keep } = useOffer();
  const error = look.error ?? keep.error;
  const close = () => {
    setFile(null);
    look.reset();
  };
  return (
    <section className={classes.section}>
      <h2>Import another shop's</h2>
      <p>It is checked first. A newer file of the same shop replaces the older one.</p>
      <FileInput
        label="Another shop's experience"
        placeholder="experience.json"
        w={280}
        accept="application/json,.json"
        value={file}
        onChange={(f) => {
          setFile(f);
          keep.reset();
          look.reset();
          if (f) look.mutate(f);
        }}
      />
      {error && (
        <Alert color="red" title="Nothing imported" role="alert">
          {reason(error)}
        </Alert>
      )}
      {keep.data && (
        <Alert color="gray" title="Imported" role="status">
          {keep.data.shop.name}: {holds(keep.data.shop)}. It weighs from now on.
        </Alert>
      )}
      {look.data && file && !keep.data && (
        <Modal opened onClose={close} title="Import this shop's experience?">
          <div className="stack">
            <p>
              {look.data.shop.name}: {holds(look.data.shop)}.
            </p>
            {look.data.instead && <p>It replaces the older file of this shop.</p>}
            <div className="row">
              <Button loading={keep.isPending} onClick={() => keep.mutate(file)}>
                Import
              </Button>
              <Button variant="default" data-autofocus onClick={close}>
                Cancel
              </Button>
            </div>
          </div>
        </Modal>
      )}
    </section>
  );
}

function Shops({ shops, owner }: { shops: Shop[]; owner: boolean }) {
  const client = useQueryClient();
  const drop = useMutation({
    mutationFn: (id: number) => take(api.DELETE("/experience/{id}", { params: { path: { id } } })),
    onSuccess: () => askAnew(client, "everything"),
  });
  if (shops.length === 0)
    return (
      <section className={classes.section}>
        <h2>Shops</h2>
        <p>No other shop's experience is here. What is typical of the trade weighs alone.</p>
      </section>
    );
  return (
    <section className={classes.section}>
      <h2>Shops</h2>
      {drop.error && (
        <Alert color="red" title="Not taken out" role="alert">
          {reason(drop.error)}
        </Alert>
      )}
      <div className="scroll">
        <table className="figures">
          <thead>
            <tr>
              <th scope="col">Shop</th>
              <th scope="col">What it found</th>
              <th scope="col">Imported</th>
              {owner && <th scope="col">File</th>}
            </tr>
          </thead>
          <tbody>
            {shops.map((s) => (
              <tr key={s.id}>
                <th scope="row">{s.name}</th>
                <td>{holds(s)}</td>
                <td>
                  {s.at && day(s.at)} by {s.by}
                </td>
                {owner && (
                  <td>
                    <a href={`/api/v1/experience/${s.id}/file`} download={`${s.name}.json`}>
                      Export
                    </a>{" "}
                    <Button
                      variant="subtle"
                      size="compact-sm"
                      color="red"
                      aria-label={`Remove ${s.name}`}
                      loading={drop.isPending && drop.variables === s.id}
                      onClick={() => drop.mutate(s.id)}
                    >
                      Remove
                    </Button>
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

const housingWords: Record<string, string> = {
  ring: "Backlash per mm of ring",
  pinion: "Backlash per mm of pinion",
  gearcase: "Backlash per mm in a gearcase",
};

const percent = (v: number) => `${fixed(100 * v, 0)} %`;

function Weights({ all }: { all: Experience }) {
  return (
    <section className={classes.section}>
      <h2>What it weighs here</h2>
      {all.gears.length > 0 && (
        <div className="scroll">
          <table className="figures">
            <caption>Gears that other shops counted</caption>
            <thead>
              <tr>
                <th scope="col">In</th>
                <th scope="col">Housings</th>
                <th scope="col">Foretold</th>
                <th scope="col">Found here</th>
                <th scope="col">Share of the weight</th>
                <th scope="col">Oftenest</th>
              </tr>
            </thead>
            <tbody>
              {all.gears.map((g) => (
                <tr key={`${g.kind} ${g.position}`}>
                  <th scope="row">{questionWords({ kind: g.kind, position: g.position })}</th>
                  <td>
                    {g.counted} of {many(g.shops, "shop", "shops")}
                  </td>
                  <td>{percent(g.foretold)}</td>
                  <td>
                    {g.hit} of {g.own}
                  </td>
                  <td>{percent(g.share)}</td>
                  <td>{g.often?.join(", ")}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {all.faults.length > 0 && <Faults faults={all.faults} />}
      {all.housings.length > 0 && (
        <table className="figures">
          <caption>Set-ups, against the law of the teeth</caption>
          <thead>
            <tr>
              <th scope="col">Sensitivity</th>
              <th scope="col">Housings</th>
              <th scope="col">Times the law</th>
            </tr>
          </thead>
          <tbody>
            {all.housings.map((h) => (
              <tr key={h.kind}>
                <th scope="row">{housingWords[h.kind] ?? h.kind}</th>
                <td>{h.count}</td>
                <td>
                  {fixed(h.factor, 2)} ± {fixed(h.sigma, 2)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

function Faults({ faults }: { faults: Experience["faults"] }) {
  return (
    <table className="figures">
      <caption>Faults that other shops' repairs proved</caption>
      <thead>
        <tr>
          <th scope="col">Fault</th>
          <th scope="col">Times</th>
          <th scope="col">Weight, typical</th>
          <th scope="col">Weight with them</th>
        </tr>
      </thead>
      <tbody>
        {faults.map((f) => (
          <tr key={f.sort}>
            <th scope="row">{f.sort.replaceAll("_", " ")}</th>
            <td>{f.found}</td>
            <td>{fixed(f.typical, 1)}</td>
            <td>{fixed(f.weight, 1)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
