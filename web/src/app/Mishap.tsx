import { Button } from "@mantine/core";
import { type ReactNode, Suspense } from "react";
import { ErrorBoundary, type FallbackProps } from "react-error-boundary";
import { useLocation } from "react-router";

/** What browsers say of a part of the program that the server has no more. */
const outdated = /dynamically imported module|module script|loading chunk|preload css/i;

/** Keeps what went wrong on a page from taking the rest away; another page is another try. */
export function Mishap({ children }: { children: ReactNode }) {
  const { pathname } = useLocation();
  return (
    <ErrorBoundary FallbackComponent={Stopped} resetKeys={[pathname]}>
      {children}
    </ErrorBoundary>
  );
}

/** What a page does without: where it can't be had, nothing stands in its place. */
export function Spare({ children }: { children: ReactNode }) {
  return (
    <ErrorBoundary fallback={null}>
      <Suspense fallback={null}>{children}</Suspense>
    </ErrorBoundary>
  );
}

function Stopped({ error }: FallbackProps) {
  const words = error instanceof Error ? error.message : String(error);
  const updated = outdated.test(words);
  return (
    <main id="main" className="page" role="alert">
      <h1>{updated ? "Zorvel was updated" : "This page stopped"}</h1>
      <p>
        {updated
          ? "Reload to get the new version. Readings and bench drafts stay on this device."
          : "Reload and go on. If the page stops again, show the line below to whoever runs Zorvel here."}
      </p>
      <Button onClick={() => window.location.reload()}>Reload</Button>
      {!updated && <p className="dim">{words}</p>}
    </main>
  );
}
