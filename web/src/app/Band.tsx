import type { ReactNode } from "react";

/** The band under the bar: what the page is about, and what is done with all of it. */
export function Band({ className, children }: { className?: string; children: ReactNode }) {
  return (
    <section className={className ? `band ${className}` : "band"} aria-label="This page">
      {children}
    </section>
  );
}
