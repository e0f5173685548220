import { ActionIcon, Menu } from "@mantine/core";
import { useDisclosure } from "@mantine/hooks";
import { IconMenu2, IconRuler2, IconUser } from "@tabler/icons-react";
import { Link, useNavigate } from "react-router";
import type { Session } from "../api/client";
import { OwnPassword } from "../people/OwnPassword";
import { useSignOut } from "./session";
import { useUnits } from "./units";
import "./app.css";

/** The pages, where there is no room for them side by side. */
export function PagesMenu({ pages }: { pages: { to: string; name: string }[] }) {
  return (
    <Menu position="bottom-start">
      <Menu.Target>
        <ActionIcon className="nav-menu" variant="subtle" color="gray.1" aria-label="Pages" title="Pages">
          <IconMenu2 size={22} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        {pages.map((x) => (
          <Menu.Item key={x.to} component={Link} to={x.to}>
            {x.name}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

export function MeasureMenu() {
  const [units, setUnits] = useUnits();
  return (
    <Menu position="bottom-end">
      <Menu.Target>
        <ActionIcon variant="subtle" color="gray.1" aria-label="Units of measure" title="Units of measure">
          <IconRuler2 size={20} />
        </ActionIcon>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>Lengths and speeds</Menu.Label>
        <Menu.Item onClick={() => setUnits("metric")}>{units === "metric" ? "✓ " : ""}mm and km/h</Menu.Item>
        <Menu.Item onClick={() => setUnits("inch")}>{units === "inch" ? "✓ " : ""}inch and mph</Menu.Item>
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
