import { ActionIcon, Menu } from "@mantine/core";
import { useDisclosure } from "@mantine/hooks";
import { IconChevronDown, IconMenu2, IconUser } from "@tabler/icons-react";
import { Fragment } from "react";
import { Link, NavLink, useLocation, useNavigate } from "react-router";
import type { Session } from "../api/client";
import type { Units } from "../format/numbers";
import { OwnPassword } from "../people/OwnPassword";
import type { PageGroup } from "./pages";
import { useSignOut } from "./session";
import { measures, useUnits } from "./units";
import "./app.css";
import "./laterStyles";

/** A group of pages in the bar: its name opens the list. */
function GroupMenu({ group, here }: { group: PageGroup; here: boolean }) {
  return (
    <Menu position="bottom-start">
      <Menu.Target>
        <button type="button" className={here ? "active" : undefined}>
          {group.name} <IconChevronDown size={14} aria-hidden />
        </button>
      </Menu.Target>
      <Menu.Dropdown>
        {group.pages.map((x) => (
          <Menu.Item key={x.to} component={Link} to={x.to}>
            {x.name}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

/** The bar's groups side by side; one with a single page is a link. */
export function GroupMenus({ groups }: { groups: PageGroup[] }) {
  const { pathname } = useLocation();
  return groups.map((g) => {
    const [only, more] = g.pages;
    if (only && !more) {
      return (
        <NavLink key={g.name} to={only.to}>
          {g.name}
        </NavLink>
      );
    }
    return <GroupMenu key={g.name} group={g} here={g.pages.some((x) => pathname.startsWith(x.to) && x.to !== "/")} />;
  });
}

/** All pages in one menu, where there is no room for the groups side by side. */
export function PagesMenu({ groups }: { groups: PageGroup[] }) {
  return (
    <Menu position="bottom-start">
      <Menu.Target>
        <ActionIcon className="nav-menu" variant="subtle" color="gray.1" aria-label="Pages" title="Pages">
          <IconMenu2 size={24} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown className="nav-pages">
        <Menu.Item component={Link} to="/">
          Start
        </Menu.Item>
        {groups.map((g) => (
          <Fragment key={g.name}>
            {g.pages.length > 1 && <Menu.Label>{g.name}</Menu.Label>}
            {g.pages.map((x) => (
              <Menu.Item key={x.to} component={Link} to={x.to}>
                {x.name}
              </Menu.Item>
            ))}
          </Fragment>
        ))}
        <Menu.Divider />
        <Menu.Item component={Link} to="/phones">
          On phones
        </Menu.Item>
        <Menu.Item component={Link} to="/words">
          Words of the trade
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}

const kinds: Units[] = ["metric", "inch"];

export function MeasureMenu() {
  const [units, setUnits] = useUnits();
  return (
    <Menu position="bottom-end">
      <Menu.Target>
        <button type="button" className="measure" aria-label={`Units of measure: ${measures[units]}`}>
          {measures[units]}
        </button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>Units of measure</Menu.Label>
        {kinds.map((k) => (
          <Menu.Item key={k} onClick={() => setUnits(k)}>
            {units === k ? "✓ " : ""}
            {measures[k]}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

/** Who is signed in, and what that person may do with the account. */
export function PersonMenu({ person }: { person: NonNullable<Session["person"]> }) {
  const navigate = useNavigate();
  const leave = useSignOut();
  const [changing, password] = useDisclosure(false);
  const signOut = async () => {
    await leave();
    navigate("/");
  };
  return (
    <>
      <Menu position="bottom-end">
        <Menu.Target>
          <button type="button" className="who" aria-label={`Signed in: ${person.name}`}>
            <IconUser size={18} aria-hidden /> <span>{person.name}</span>
          </button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Label>{person.role}</Menu.Label>
          <Menu.Item onClick={password.open}>Change your password</Menu.Item>
          <Menu.Item onClick={signOut}>Sign out</Menu.Item>
        </Menu.Dropdown>
      </Menu>
      {changing && <OwnPassword onClose={password.close} />}
    </>
  );
}
