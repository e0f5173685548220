import type { ReactNode } from "react";
import type { Kind, Method } from "../../api/client";
import classes from "./howto.module.css";
import { MethodPicture } from "./MethodPicture";
import { methods, stepsFor } from "./methods";
import { Steps } from "./Steps";

/** What a blank bench shows: how the first measurement is done, and where on this machine. */
export function HowTo({ method, kind, where }: { method: Method; kind: Kind; where?: ReactNode }) {
  return (
    <section className={classes.how} aria-label="How it is done">
      <div>
        <h2>{methods[method].name}: how it is done</h2>
        <MethodPicture method={method} kind={kind} />
        <Steps steps={stepsFor(method, kind, false)} />
      </div>
      {where}
    </section>
  );
}
