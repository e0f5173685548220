import classes from "./gearcase.module.css";

/** How a stamp is read, before one is typed. */
export function StampExample() {
  return (
    <section aria-label="How to read the stamp">
      <h2>How to read the stamp</h2>
      <p className={classes.stamp} aria-hidden>
        P −3{"   "}F +1{"   "}R 0
      </p>
      <ul>
        <li>Look on the machined face of the case, by the gears. Brush it clean; look along the light.</li>
        <li>A letter is a gear: P pinion, F forward gear, R reverse gear.</li>
        <li>The figure is how far this case is from the drawing, most often in hundredths of a millimeter.</li>
        <li>The manual says the unit, and whether a plus adds to the shim. Makers differ.</li>
      </ul>
    </section>
  );
}
