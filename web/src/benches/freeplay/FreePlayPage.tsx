import { Loader, Select } from "@mantine/core";
import { Link, useParams } from "react-router";
import { useKept } from "../../app/local";
import { useTitle } from "../../app/title";
import { useLayouts } from "../../machine/useLayouts";
import { SignInFirst } from "../../people/SignInFirst";
import { useUnit } from "../useUnit";
import { FreePlayBench } from "./FreePlayBench";

/** The free play of a unit, on its own driveline. */
export function UnitFreePlayPage() {
  const id = Number(useParams().id);
  const { unit, line, error } = useUnit(id);
  useTitle("Free play", unit?.name);
  if (error) return <SignInFirst error={error} />;
  if (!unit || !line) return <Loader m="xl" />;
  return (
    <FreePlayBench
      store={`zorvel.freeplay.${id}`}
      title={
        <>
          <Link to={`/units/${id}`}>{unit.name}</Link>
          <span> · free play</span>
        </>
      }
      unit={id}
      doc={line.document}
    />
  );
}

/** The same on a ready driveline. */
export function LooseFreePlayPage() {
  useTitle("Free play");
  const layouts = useLayouts();
  const [id, setID] = useKept("zorvel.freeplay.layout", "rear_drive");
  if (layouts.error) return <SignInFirst error={layouts.error} />;
  if (!layouts.data) return <Loader m="xl" />;
  const chosen = layouts.data.find((l) => l.id === id) ?? layouts.data[0];
  if (!chosen) return null;
  return (
    <FreePlayBench
      key={chosen.id}
      store={`zorvel.freeplay.loose.${chosen.id}`}
      title={<span>Free play of a driveline</span>}
      doc={chosen.document}
      choose={
        <Select
          aria-label="Driveline"
          value={chosen.id}
          onChange={(v) => v && setID(v)}
          data={layouts.data.map((l) => ({ value: l.id, label: l.name }))}
        />
      }
    />
  );
}
