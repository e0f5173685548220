import { ActionIcon, Loader, useComputedColorScheme, useMantineColorScheme } from "@mantine/core";
import { useDisclosure, useHotkeys } from "@mantine/hooks";
import { IconHelp, IconMoon, IconSun } from "@tabler/icons-react";
import { lazy, Suspense } from "react";
import { Link, Navigate, Route, Routes, useLocation, useMatch, useNavigate } from "react-router";
import { page } from "../benches/bench";
import { benches } from "../benches/registry";
import { FirstVisitGuide } from "./FirstVisit";
import { Mishap, Spare } from "./Mishap";
import { Outbox } from "./Outbox";
import { pagesOf } from "./pages";
import { StartPage } from "./StartPage";
import { useFollowSession, useSession } from "./session";
import { usePerson } from "./who";
import "./app.css";

const ShopPage = page(
  () => import("../shop/ShopPage"),
  (m) => m.ShopPage,
);
const UnitPage = page(
  () => import("../units/UnitPage"),
  (m) => m.UnitPage,
);
const UnitsPage = page(
  () => import("../units/UnitsPage"),
  (m) => m.UnitsPage,
);
const ComparePage = page(
  () => import("../units/ComparePage"),
  (m) => m.ComparePage,
);
const PeoplePage = page(
  () => import("../people/PeoplePage"),
  (m) => m.PeoplePage,
);

const AuditPage = page(
  () => import("../people/AuditPage"),
  (m) => m.AuditPage,
);
const PhonesPage = page(
  () => import("../phones/PhonesPage"),
  (m) => m.PhonesPage,
);
const WordsPage = page(
  () => import("../words/WordsPage"),
  (m) => m.WordsPage,
);
const WaitingPage = page(
  () => import("./WaitingPage"),
  (m) => m.WaitingPage,
);
const ExperiencePage = page(
  () => import("../shop/ExperiencePage"),
  (m) => m.ExperiencePage,
);
const FilesPage = page(
  () => import("../shop/FilesPage"),
  (m) => m.FilesPage,
);
const JoinPage = page(
  () => import("../live/JoinPage"),
  (m) => m.JoinPage,
);
const LiveCountPage = page(
  () => import("../live/LiveCountPage"),
  (m) => m.LiveCountPage,
);
const OwnerPage = page(
  () => import("../people/SignInPage"),
  (m) => m.OwnerPage,
);
const SignInPage = page(
  () => import("../people/SignInPage"),
  (m) => m.SignInPage,
);
const KeysList = lazy(() => import("./KeysList").then((m) => ({ default: m.KeysList })));
const PagesMenu = lazy(() => import("./TopMenus").then((m) => ({ default: m.PagesMenu })));
const GroupMenus = lazy(() => import("./TopMenus").then((m) => ({ default: m.GroupMenus })));
const MeasureMenu = lazy(() => import("./TopMenus").then((m) => ({ default: m.MeasureMenu })));
const PersonMenu = lazy(() => import("./TopMenus").then((m) => ({ default: m.PersonMenu })));

/** The pages of whoever is signed in: with another person they begin anew, so that nothing typed is another's. */
export function App() {
  useFollowSession();
  return <Pages key={usePerson()} />;
}

function Pages() {
  const session = useSession();
  const navigate = useNavigate();
  const [help, { toggle, close }] = useDisclosure(false);
  useHotkeys([
    ["shift+?", toggle],
    ["?", toggle],
    ["g", () => navigate("/")],
    ["u", () => navigate("/units")],
    ...benches.flatMap(({ loose }): [string, () => void][] =>
      loose.key ? [[loose.key, () => navigate(loose.path)]] : [],
    ),
  ]);
  // Counting needs no account, and no owner either.
  const counting = useMatch("/count/:kind");
  const { search } = useLocation();
  const s = session.data;
  if (s?.needs_owner && !counting) {
    return (
      <Routes>
        <Route path="/owner" element={<OwnerPage />} />
        <Route path="*" element={<Navigate to={`/owner${search}`} replace />} />
      </Routes>
    );
  }
  return (
    <>
      <Shell onHelp={toggle} />
      {help && (
        <Spare>
          <KeysList onClose={close} />
        </Spare>
      )}
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
      <Spare>{benches.map((b) => b.over && <b.over key={b.id} />)}</Spare>
      <FirstVisitGuide />
      <Mishap>
        <Suspense fallback={<Loader m="xl" />}>
          <Routes>
            <Route path="/" element={<StartPage />} />
            {benches.flatMap((b) => [
              <Route key={b.loose.path} path={b.loose.path} element={<b.loose.page />} />,
              b.unit && <Route key={b.unit.path} path={`/units/:id/${b.unit.path}`} element={<b.unit.page />} />,
              ...(b.pages ?? []).map((x) => <Route key={x.path} path={x.path} element={<x.page />} />),
            ])}
            <Route path="/shop/:list?" element={<ShopPage />} />
            <Route path="/parts" element={<Navigate to="/shop/parts" replace />} />
            <Route path="/units" element={<UnitsPage />} />
            <Route path="/units/:id/compare" element={<ComparePage />} />
            <Route path="/units/:id" element={<UnitPage />} />
            <Route path="/people" element={<PeoplePage />} />
            <Route path="/experience" element={<ExperiencePage />} />
            <Route path="/files" element={<FilesPage />} />
            <Route path="/audit" element={<AuditPage />} />
            <Route path="/phones" element={<PhonesPage />} />
            <Route path="/join/:id" element={<JoinPage />} />
            <Route path="/live/:id" element={<LiveCountPage />} />
            <Route path="/words" element={<WordsPage />} />
            <Route path="/waiting" element={<WaitingPage />} />
            <Route path="/sign-in" element={<SignInPage />} />
            <Route path="*" element={<Navigate to="/" replace />} />
          </Routes>
        </Suspense>
      </Mishap>
    </>
  );
}

function TopBar({ onHelp }: { onHelp: () => void }) {
  const session = useSession();
  const { setColorScheme } = useMantineColorScheme();
  const scheme = useComputedColorScheme("light");
  const person = session.data?.person;
  const groups = pagesOf(person);
  return (
    <header className="topbar">
      <Link to="/" className="brand">
        Zorvel
      </Link>
      <Spare>
        <PagesMenu groups={groups} />
      </Spare>
      <nav aria-label="Pages">
        <Spare>
          <GroupMenus groups={groups} />
        </Spare>
      </nav>
      <span className="grow" />
      <Outbox />
      <Spare>
        <MeasureMenu />
      </Spare>
      <ActionIcon
        variant="subtle"
        color="gray.1"
        aria-label={scheme === "dark" ? "Light screen" : "Dark screen"}
        title={scheme === "dark" ? "Light screen" : "Dark screen"}
        onClick={() => setColorScheme(scheme === "dark" ? "light" : "dark")}
      >
        {scheme === "dark" ? <IconSun size={20} /> : <IconMoon size={20} />}
      </ActionIcon>
      <ActionIcon variant="subtle" color="gray.1" aria-label="Help and keys" title="Help and keys (?)" onClick={onHelp}>
        <IconHelp size={22} />
      </ActionIcon>
      {person ? (
        <Suspense fallback={<span className="who">{person.name}</span>}>
          <PersonMenu person={person} />
        </Suspense>
      ) : (
        <Link to="/sign-in" className="who">
          Sign in
        </Link>
      )}
    </header>
  );
}
