import { Button, Menu } from "@mantine/core";
import { IconChevronDown, IconDownload, IconPrinter, IconQrcode, IconRulerMeasure } from "@tabler/icons-react";
import { Fragment } from "react";
import { Link } from "react-router";
import type { Unit } from "../api/client";
import { type Bench, type Group, groups } from "../benches/bench";
import { benches } from "../benches/registry";
import { openStages } from "./open";

/** What is done at a unit first to last: ratios, gears, repair, then its jobs. */
const order: Group[] = ["ratios", "gears", "repair", "jobs"];

type Door = NonNullable<Bench["unit"]>;

/** The doors of a unit: what is open on it in front, then its benches in the trade's groups, then its papers. */
export function UnitDoors({ unit }: { unit: Unit }) {
  const rooms = order
    .map((g) => ({
      name: groups[g],
      doors: benches.flatMap((b) => (b.group === g && b.unit?.has(unit) ? [b.unit] : [])),
    }))
    .filter((g) => g.doors.length > 0);
  const next = openStages(unit)[0];
  const items = (doors: Door[]) =>
    doors.map((d) => (
      <Menu.Item key={d.path} leftSection={<d.icon size={18} />} component={Link} to={`/units/${unit.id}/${d.path}`}>
        {d.door}
      </Menu.Item>
    ));
  return (
    <div className="row wrap">
      {next && (
        <Button
          color="brass.4"
          autoContrast
          visibleFrom="sm"
          leftSection={<IconRulerMeasure size={18} />}
          component={Link}
          to={`/stages/${next.id}`}
        >
          Measure {next.name}
        </Button>
      )}
      {rooms.map((g) => (
        <Menu key={g.name} position="bottom-start">
          <Menu.Target>
            <Button visibleFrom="sm" variant="default" rightSection={<IconChevronDown size={16} />}>
              {g.name}
            </Button>
          </Menu.Target>
          <Menu.Dropdown>{items(g.doors)}</Menu.Dropdown>
        </Menu>
      ))}
      <Menu position="bottom-end">
        <Menu.Target>
          <Button visibleFrom="sm" variant="default" rightSection={<IconChevronDown size={16} />}>
            Print and export
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          <Papers unit={unit} />
        </Menu.Dropdown>
      </Menu>
      <Menu position="bottom-end">
        <Menu.Target>
          <Button hiddenFrom="sm" variant="default" rightSection={<IconChevronDown size={18} />}>
            More
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          {rooms.map((g) => (
            <Fragment key={g.name}>
              <Menu.Label>{g.name}</Menu.Label>
              {items(g.doors)}
            </Fragment>
          ))}
          <Menu.Label>Print and export</Menu.Label>
          <Papers unit={unit} />
        </Menu.Dropdown>
      </Menu>
    </div>
  );
}

/** What of a unit leaves the program: on paper, or as files. */
function Papers({ unit }: { unit: Unit }) {
  const at = `/api/v1/units/${unit.id}/document`;
  return (
    <>
      <Menu.Item leftSection={<IconPrinter size={18} />} onClick={() => setTimeout(() => window.print(), 300)}>
        Print the unit
      </Menu.Item>
      <Menu.Item
        component="a"
        href={`/api/v1/units/${unit.id}/wall?origin=${encodeURIComponent(window.location.origin)}`}
        target="_blank"
        rel="noreferrer"
        leftSection={<IconQrcode size={18} />}
      >
        Page for the wall (PDF)
      </Menu.Item>
      <Menu.Item component="a" href={at} download={`${unit.name}.json`} leftSection={<IconDownload size={18} />}>
        Export (JSON)
      </Menu.Item>
      <Menu.Item
        component="a"
        href={`${at}.zip`}
        download={`${unit.name}.zip`}
        leftSection={<IconDownload size={18} />}
      >
        Export with photos and recordings (zip)
      </Menu.Item>
    </>
  );
}
