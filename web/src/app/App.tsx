import { ActionIcon, Loader, Menu, Modal, Table, useComputedColorScheme, useMantineColorScheme } from "@mantine/core";
import { useDisclosure, useHotkeys } from "@mantine/hooks";
import { IconKeyboard, IconMenu2, IconMoon, IconRuler2, IconSun, IconUser } from "@tabler/icons-react";
import { useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { Link, Navigate, NavLink, Route, Routes, useNavigate } from "react-router";
import { api, take } from "../api/client";
import { BenchPage } from "../benches/identify/BenchPage";
import { StagePage } from "../benches/identify/StagePage";
import { OwnPassword } from "../people/OwnPassword";
import { PeoplePage } from "../people/PeoplePage";
import { SignInPage } from "../people/SignInPage";
import { UnitPage } from "../units/UnitPage";
import { UnitsPage } from "../units/UnitsPage";
import { StartPage } from "./StartPage";
import { useSession } from "./session";
import { useUnits } from "./units";

const UnitTracePage = lazy(() => import("../benches/driveline/TracePages").then((m) => ({ default: m.UnitTracePage })));
const LooseTracePage = lazy(() =>
  import("../benches/driveline/TracePages").then((m) => ({ default: m.LooseTracePage })),
);
const ShopPage = lazy(() => import("../shop/ShopPage").then((m) => ({ default: m.ShopPage })));
const UnitRegearPage = lazy(() => import("../benches/regear/RegearPage").then((m) => ({ default: m.UnitRegearPage })));
const LooseRegearPage = lazy(() =>
  import("../benches/regear/RegearPage").then((m) => ({ default: m.LooseRegearPage })),
);
const UnitSpeedoPage = lazy(() => import("../benches/speedo/SpeedoPage").then((m) => ({ default: m.UnitSpeedoPage })));
const LooseSpeedoPage = lazy(() =>
  import("../benches/speedo/SpeedoPage").then((m) => ({ default: m.LooseSpeedoPage })),
);

const shortcuts = [
  ["?", "this list"],
  ["G", "begin: what do you want to know?"],
  ["U", "units"],
  ["1 … 6", "on a bench: add a reading by the method of that number"],
  ["N", "on a bench: take the recommended next measurement"],
  ["B", "on a bench: blind counting on or off"],
  ["E", "on a bench: where the numbers come from"],
  ["Space or Enter", "in the counter: count one"],
  ["Backspace", "in the counter: take one back"],
  ["D", "in the counter: done, use this count"],
  ["Esc", "close; a count in progress is kept"],
  ["T", "trace: where does the power go?"],
  ["R", "tires changed: which ring and pinion?"],
  ["S", "speedometer: gears, calibration, check"],
  ["P", "on the trace: turn or pause"],
  [". and ,", "on the trace: step the input a sixteenth of a turn on or back"],
  ["] and [", "on the trace: next or previous gear"],
  ["L, C, K", "on the trace: low range, center lock, axle lock"],
  ["0", "on the trace: back to how it starts"],
  ["Ctrl Z, Ctrl Y", "on the trace: undo, redo"],
  ["Alt 1 … 6", "on the trace: power, grip, build, gears, shifts, on stands"],
];

export function App() {
  const session = useSession();
  const navigate = useNavigate();
  const [help, { toggle, close }] = useDisclosure(false);
  useHotkeys([
    ["shift+?", toggle],
    ["?", toggle],
    ["g", () => navigate("/")],
    ["u", () => navigate("/units")],
    ["t", () => navigate("/trace")],
    ["r", () => navigate("/regear")],
    ["s", () => navigate("/speedometer")],
  ]);
  const s = session.data;
  if (s?.needs_owner) {
    return (
      <Routes>
        <Route path="/owner" element={<SignInPage first />} />
        <Route path="/count/:kind" element={<Shell onHelp={toggle} />} />
        <Route path="*" element={<Navigate to="/owner" replace />} />
      </Routes>
    );
  }
  return (
    <>
      <Shell onHelp={toggle} />
      <Modal opened={help} onClose={close} title="Keys" size="lg">
        <Table>
          <Table.Tbody>
            {shortcuts.map(([key, what]) => (
              <Table.Tr key={key}>
                <Table.Td>
                  <kbd>{key}</kbd>
                </Table.Td>
                <Table.Td>{what}</Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      </Modal>
    </>
  );
}

function Shell({ onHelp }: { onHelp: () => void }) {
  return (
    <>
      <a className="skip" href="#main">
        To the page
      </a>
      <TopBar onHelp={onHelp} />
      <Suspense fallback={<Loader m="xl" />}>
        <Routes>
          <Route path="/" element={<StartPage />} />
          <Route path="/trace" element={<LooseTracePage />} />
          <Route path="/units/:id/trace" element={<UnitTracePage />} />
          <Route path="/regear" element={<LooseRegearPage />} />
          <Route path="/units/:id/regear" element={<UnitRegearPage />} />
          <Route path="/speedometer" element={<LooseSpeedoPage />} />
          <Route path="/units/:id/speedometer" element={<UnitSpeedoPage />} />
          <Route path="/shop/:list?" element={<ShopPage />} />
          <Route path="/parts" element={<Navigate to="/shop/parts" replace />} />
          <Route path="/count/:kind" element={<BenchPage />} />
          <Route path="/stages/:id" element={<StagePage />} />
          <Route path="/units" element={<UnitsPage />} />
          <Route path="/units/:id" element={<UnitPage />} />
          <Route path="/people" element={<PeoplePage />} />
          <Route path="/sign-in" element={<SignInPage />} />
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </Suspense>
    </>
  );
}

/** The pages that a person may open, in the order of the trade. */
const pages = (person?: { role: string }) => [
  { to: "/", name: "Begin" },
  { to: "/units", name: "Units" },
  { to: "/trace", name: "Trace" },
  { to: "/regear", name: "Tires and gears" },
  { to: "/speedometer", name: "Speedometer" },
  ...(person ? [{ to: "/shop", name: "Shop" }] : []),
  ...(person?.role === "owner" ? [{ to: "/people", name: "People" }] : []),
];

function TopBar({ onHelp }: { onHelp: () => void }) {
  const session = useSession();
  const client = useQueryClient();
  const navigate = useNavigate();
  const { setColorScheme } = useMantineColorScheme();
  const scheme = useComputedColorScheme("light");
  const [units, setUnits] = useUnits();
  const person = session.data?.person;
  const [changing, password] = useDisclosure(false);
  const signOut = async () => {
    await take(api.DELETE("/session"));
    client.clear();
    navigate("/");
  };
  return (
    <header className="topbar">
      <Link to="/" className="brand">
        Zorvel
      </Link>
      <Menu position="bottom-start">
        <Menu.Target>
          <ActionIcon className="nav-menu" variant="subtle" color="gray.1" aria-label="Pages" title="Pages">
            <IconMenu2 size={22} />
          </ActionIcon>
        </Menu.Target>
        <Menu.Dropdown>
          {pages(person).map((x) => (
            <Menu.Item key={x.to} component={Link} to={x.to}>
              {x.name}
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>
      <nav>
        {pages(person).map((x) => (
          <NavLink key={x.to} to={x.to} end={x.to === "/"}>
            {x.name}
          </NavLink>
        ))}
      </nav>
      <span className="grow" />
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
      <ActionIcon
        variant="subtle"
        color="gray.1"
        aria-label={scheme === "dark" ? "Light screen" : "Dark screen"}
        title={scheme === "dark" ? "Light screen" : "Dark screen"}
        onClick={() => setColorScheme(scheme === "dark" ? "light" : "dark")}
      >
        {scheme === "dark" ? <IconSun size={20} /> : <IconMoon size={20} />}
      </ActionIcon>
      <ActionIcon variant="subtle" color="gray.1" aria-label="Keys" title="Keys (?)" onClick={onHelp}>
        <IconKeyboard size={20} />
      </ActionIcon>
      {person ? (
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
      ) : (
        <Link to="/sign-in" className="who">
          Sign in
        </Link>
      )}
      {changing && <OwnPassword onClose={password.close} />}
    </header>
  );
}
