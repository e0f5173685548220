import type { Kind, Method } from "../../api/client";
import { methods } from "./methods";
import "../../drawing/drawing.css";

/** Where to mark and what to turn. */
export function MethodPicture({ method, kind }: { method: Method; kind: Kind }) {
  return (
    <svg viewBox="0 0 440 122" className="method-picture" aria-hidden="true">
      {methods[method].picture(kind)}
    </svg>
  );
}
