import { Alert, Button, PasswordInput, TextInput } from "@mantine/core";
import { useMutation } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { api, Refused, type Session, take } from "../api/client";
import { useSession, useSetSession } from "../app/session";
import { useTitle } from "../app/title";
import "./people.css";

/** Sign in; on the very first start create the owner instead. */
export function SignInPage({ first = false }: { first?: boolean }) {
  useTitle(first ? "First owner" : "Sign in");
  const session = useSession();
  const setSession = useSetSession();
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const waiting = Number(search.get("waiting")) || 0;
  const [signIn, setSignIn] = useState("");
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const go = useMutation({
    mutationFn: (v: { sign_in: string; password: string }) =>
      first ? take(api.POST("/owner", { body: { ...v, name } })) : take(api.POST("/session", { body: v })),
    onSuccess: (s) => {
      setSession(s);
      const back = search.get("back");
      navigate(back?.startsWith("/") && !back.startsWith("//") ? back : "/");
    },
  });
  const refused = go.error instanceof Refused ? go.error : undefined;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    go.mutate({ sign_in: signIn.trim().toLowerCase(), password });
  };
  const demo = first ? [] : (session.data?.demo_accounts ?? []);
  return (
    <main id="main" className="narrow">
      <h1>{first ? "Welcome. Who owns this shop?" : "Sign in"}</h1>
      {first && (
        <p>
          This is the first start. The owner's account comes first; the owner then adds everyone else. Counting works at
          once, <Link to="/count/ring_and_pinion">without any account</Link>.
        </p>
      )}
      {waiting > 0 && (
        <Alert color="slate" role="status">
          Your {waiting === 1 ? "reading waits" : `${waiting} readings wait`} on this device.{" "}
          {first ? "Create the shop" : "Sign in"}, and {waiting === 1 ? "it comes" : "they come"} along to be filed.
        </Alert>
      )}
      <form onSubmit={submit} className="stack">
        {first && (
          <TextInput
            label="Your name"
            description="As it should show beside your readings"
            value={name}
            onChange={(e) => setName(e.currentTarget.value)}
            error={refused?.at("/name")}
            required
          />
        )}
        <TextInput
          label="Sign-in name"
          description={first ? "Small letters and digits, for example oda" : undefined}
          value={signIn}
          onChange={(e) => setSignIn(e.currentTarget.value)}
          error={refused?.at("/sign_in")}
          autoComplete="username"
          autoFocus
          required
        />
        <PasswordInput
          label="Password"
          description={first ? "At least 10 characters" : undefined}
          value={password}
          onChange={(e) => setPassword(e.currentTarget.value)}
          error={refused?.at("/password")}
          autoComplete={first ? "new-password" : "current-password"}
          required
        />
        {go.error && !refused?.faults.length && (
          <Alert color="red" role="alert">
            {go.error.message}
          </Alert>
        )}
        <Button type="submit" loading={go.isPending} size="md">
          {first ? "Create the owner's account" : "Sign in"}
        </Button>
      </form>
      {demo.length > 0 && (
        <DemoAccounts list={demo} onPick={(d) => go.mutate({ sign_in: d.sign_in, password: d.password })} />
      )}
    </main>
  );
}

type DemoAccount = NonNullable<Session["demo_accounts"]>[number];

/** The people of the demo's shop, each to come in as. */
function DemoAccounts({ list, onPick }: { list: DemoAccount[]; onPick: (d: DemoAccount) => void }) {
  return (
    <section className="demo-accounts">
      <h2>Demo shop: come in as</h2>
      {list.map((d) => (
        <Button
          key={d.sign_in}
          variant="default"
          fullWidth
          justify="space-between"
          rightSection={<span className="dim">{d.role}</span>}
          onClick={() => onPick(d)}
        >
          {d.name}
        </Button>
      ))}
      <p className="dim">Invented people of an invented shop; their passwords are no secret.</p>
    </section>
  );
}

/** The first start: whoever opens it becomes the owner. */
export const OwnerPage = () => <SignInPage first />;
