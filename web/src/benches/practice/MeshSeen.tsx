import type { PracticeMesh } from "../../api/client";
import { fixed } from "../../format/numbers";
import { Tooth } from "../setup/Tooth";
import classes from "./practice.module.css";

/** What dial and pattern show of this assembly. */
export function MeshSeen({ mesh }: { mesh: PracticeMesh }) {
  const toeLeft = true;
  return (
    <section className={classes.mesh} aria-label="This assembly">
      <dl>
        <div>
          <dt>Wanted</dt>
          <dd>
            {fixed(mesh.low, 2)} to {fixed(mesh.high, 2)} mm, at most {fixed(mesh.differs, 2)} apart
          </dd>
        </div>
        <div>
          <dt>Shims now</dt>
          <dd>
            pinion {fixed(mesh.piles.pinion, 2)}, left {fixed(mesh.piles.left, 2)}, right {fixed(mesh.piles.right, 2)}{" "}
            mm
          </dd>
        </div>
        <div>
          <dt>How they act</dt>
          <dd>
            A thicker depth shim moves the pinion {mesh.thicker}. Ring on the {mesh.ring_side}.
          </dd>
        </div>
        <div>
          <dt>Dial</dt>
          <dd>{mesh.places ? `${mesh.places.join("  ")} mm` : mesh.zeroed ? "zeroed" : "not zeroed"}</dd>
        </div>
      </dl>
      {mesh.drive && mesh.coast && (
        <div className={classes.flanks}>
          <Tooth name="Drive side" spot={mesh.drive} toeLeft={toeLeft} />
          <Tooth name="Coast side" spot={mesh.coast} toeLeft={toeLeft} />
        </div>
      )}
    </section>
  );
}
