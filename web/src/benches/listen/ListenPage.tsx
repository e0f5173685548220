import { Loader } from "@mantine/core";
import { Link, useParams } from "react-router";
import type { Doc, Unit } from "../../api/client";
import { useTitle } from "../../app/title";
import { useUnits } from "../../app/units";
import { typed, type Units } from "../../format/numbers";
import { YouAreHere } from "../../machine/YouAreHere";
import { SignInFirst } from "../../people/SignInFirst";
import { useUnit } from "../useUnit";
import { ListenBench } from "./ListenBench";
import { type Form, rollingOf } from "./model";
import { Recordings } from "./Recordings";

/** What a unit's driveline tells of its driven axle, its tires and what was counted on them. */
function knownOf(unit: Unit, doc: Doc, units: Units): Partial<Form> {
  const axle = doc.parts.find((p) => p.kind === "axle" && p.axle);
  const wheel = doc.parts.find((p) => p.kind === "wheel" && p.wheel?.rolling_mm);
  const counted = unit.stages.find((s) => s.present && s.part === axle?.id);
  const rolling = typed(String(wheel?.wheel?.rolling_mm ?? ""));
  const { ring, pinion } = axle?.axle ?? {};
  return {
    rolling: rolling ? rollingOf(rolling / 1000, units) : "",
    ring: ring && pinion ? String(ring) : "",
    pinion: ring && pinion ? String(pinion) : "",
    ratio: ring ? "" : (counted?.label?.label ?? String(axle?.axle?.ratio ?? "")),
  };
}

/** What howls in a unit, with its own axle. */
export function UnitListenPage() {
  const id = Number(useParams().id);
  const { unit, line, error } = useUnit(id);
  const [units] = useUnits();
  useTitle("Name a sound", unit?.name);
  if (error) return <SignInFirst error={error} />;
  if (!unit || !line) return <Loader m="xl" />;
  return (
    <ListenBench
      store={`zorvel.listen.${id}`}
      title={
        <>
          <Link to={`/units/${id}`}>{unit.name}</Link>
          <span> · name a sound</span>
        </>
      }
      here={
        <>
          <YouAreHere unit={unit} line={line} />
          <Recordings unit={id} />
        </>
      }
      known={knownOf(unit, line.document, units)}
      unit={unit}
    />
  );
}

/** The same without a unit. */
export function LooseListenPage() {
  useTitle("Name a sound");
  return <ListenBench store="zorvel.listen.loose" title={<span>Name a sound</span>} />;
}
