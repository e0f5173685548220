import { Loader } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { api, type Phones, take } from "../api/client";
import { key } from "../api/keys";
import { Band } from "../app/Band";
import { useTitle } from "../app/title";
import { QRCode } from "../drawing/QRCode";
import { day } from "../format/numbers";
import classes from "./phones.module.css";

/** How the shop's phones and tablets get in. */
export function PhonesPage() {
  useTitle("On phones");
  const { data, error } = useQuery({ queryKey: key.phones(), queryFn: () => take(api.GET("/phones")) });
  return (
    <>
      <Band>
        <h1>Zorvel on phones and tablets</h1>
      </Band>
      <main id="main" className="page">
        {error && <p className="trouble">{error.message}</p>}
        {!data && !error && <Loader m="xl" />}
        {data && (data.secure ? <Secure way={data} /> : <Plain />)}
      </main>
    </>
  );
}

function Plain() {
  return (
    <>
      <p>
        This server is reached without HTTPS. Phones can open it and count, but they do not install it, keep no pages
        for a place without a network, and do not let it use motion sensors or a live camera.
      </p>
      <h2>Give the shop a secure address</h2>
      <p>Run this where the server runs. It makes everything it needs by itself:</p>
      <pre className={classes.command}>zorvel serve --https --addr 0.0.0.0:8080</pre>
      <p className="dim">Then open this page again: it shows the code that each phone scans once.</p>
    </>
  );
}

function Secure({ way }: { way: Phones }) {
  const own = way.trust.length > 0;
  return (
    <>
      <div className={classes.steps}>
        {own && (
          <section className={classes.step}>
            <h2>1. Trust this shop, once a phone</h2>
            <Code addresses={way.trust} name="the shop's certificate" />
            <p>
              Scan it on the shop's network, download the certificate, and follow the steps for your phone on that page.
              The certificate vouches for this shop's server and nothing else.
            </p>
          </section>
        )}
        <section className={classes.step}>
          <h2>{own ? "2. Open Zorvel" : "Open Zorvel"}</h2>
          <Code addresses={own ? way.addresses : [window.location.origin]} name="Zorvel on this server" />
          <p>Scan it, sign in, and add it to the home screen from the browser's menu.</p>
        </section>
      </div>
      {own && (
        <p className="dim">
          Compare before you trust it. SHA-256: <code className={classes.print}>{way.fingerprint}</code>
          {way.ends && <> Good until {day(way.ends)}.</>}
        </p>
      )}
    </>
  );
}

/** The first address as a code, the others to be typed. */
function Code({ addresses, name }: { addresses: string[]; name: string }) {
  const [first, ...others] = addresses;
  if (!first) return null;
  return (
    <>
      <QRCode text={first} name={name} />
      <p>
        <a href={first}>{first}</a>
      </p>
      {others.length > 0 && (
        <details>
          <summary>Other addresses of this server</summary>
          <ul>
            {others.map((x) => (
              <li key={x}>
                <a href={x}>{x}</a>
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
