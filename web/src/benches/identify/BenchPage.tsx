import { Button, Menu, NativeSelect, SegmentedControl, TextInput } from "@mantine/core";
import { useDisclosure } from "@mantine/hooks";
import { IconDots, IconFolderPlus } from "@tabler/icons-react";
import { useEffect } from "react";
import { Navigate, useNavigate, useParams, useSearchParams } from "react-router";
import type { Kind, Member, Question } from "../../api/client";
import { Band } from "../../app/Band";
import { useKept } from "../../app/local";
import { useSession } from "../../app/session";
import { useTitle } from "../../app/title";
import { StageGlyph } from "../../drawing/StageGlyph";
import { kindWords, questionWords } from "../../format/words";
import { Bench, clearBench } from "./Bench";
import { FileDialog } from "./FileDialog";
import { type BenchReading, benchStore } from "./model";

const none: BenchReading[] = [];

/** Counting first: a bench that belongs to no unit yet. */
export function BenchPage() {
  const kind = useParams().kind as Kind;
  const [search, setSearch] = useSearchParams();
  if (!(kind in kindWords)) return <Navigate to="/" replace />;
  const position =
    search.get("position") ?? (kind === "transfer_case" ? "high" : kind === "gearbox" ? "4" : undefined) ?? undefined;
  const question: Question = {
    kind,
    position: kind === "transfer_case" || kind === "gearbox" ? position || "4" : undefined,
    held: (search.get("held") as Member | null) ?? undefined,
    input: (search.get("input") as Member | null) ?? undefined,
  };
  return <Loose key={benchStore(question)} question={question} onQuestion={(q) => setSearch(q, { replace: true })} />;
}

function Loose({ question, onQuestion }: { question: Question; onQuestion: (q: Record<string, string>) => void }) {
  useTitle(questionWords(question));
  const store = benchStore(question);
  const [readings, setReadings] = useKept<BenchReading[]>(`${store}.readings`, none);
  const [, setOpenBenches] = useKept<Question[]>("zorvel.benches", []);
  const [search] = useSearchParams();
  const [filing, file] = useDisclosure(false);
  const session = useSession();
  const navigate = useNavigate();
  const any = readings.length > 0;
  useEffect(() => {
    setOpenBenches((list) => {
      const rest = list.filter((q) => benchStore(q) !== store);
      return any ? [question, ...rest].slice(0, 12) : rest;
    });
  }, [any, store, question, setOpenBenches]);
  const person = session.data?.person;
  useGoesOnFiling(Boolean(person) && any, file.open);
  return (
    <>
      <Band>
        <StageGlyph kind={question.kind} width={96} />
        <div className="grow">
          <h1>{questionWords(question)}</h1>
          <span>Not filed with a unit yet. Readings wait on this device.</span>
        </div>
        <QuestionInput question={question} onQuestion={onQuestion} />
        {any && (
          <Button
            color="brass.4"
            autoContrast
            leftSection={<IconFolderPlus size={18} />}
            onClick={() => {
              if (person) file.open();
              else navigate(`/sign-in?back=${encodeURIComponent(backTo(search))}&waiting=${readings.length}`);
            }}
          >
            File with a unit
          </Button>
        )}
      </Band>
      <Bench
        store={store}
        question={question}
        readings={readings}
        mayWrite
        maySave
        onKeep={(r) => setReadings((old) => [...old, r])}
        onStrike={(r, reason) =>
          setReadings((old) =>
            old.map((o) => (o.key === r.key ? { ...o, struck: { reason, at: new Date().toISOString() } } : o)),
          )
        }
        actions={any && <Discard store={store} />}
      />
      {filing && (
        <FileDialog
          question={question}
          readings={readings}
          onClose={file.close}
          onFiled={(stage) => {
            clearBench(store);
            navigate(`/stages/${stage}`);
          }}
        />
      )}
    </>
  );
}

/** This bench, with the dialog that files it open. */
function backTo(search: URLSearchParams) {
  const q = new URLSearchParams(search);
  q.set("file", "1");
  return `${window.location.pathname}?${q}`;
}

function QuestionInput({
  question: q,
  onQuestion,
}: {
  question: Question;
  onQuestion: (q: Record<string, string>) => void;
}) {
  if (q.kind === "transfer_case") {
    return (
      <SegmentedControl
        aria-label="Which ratio"
        value={q.position}
        onChange={(position) => onQuestion({ position })}
        data={[
          { value: "high", label: "High" },
          { value: "low", label: "Low" },
          { value: "front", label: "Front against rear" },
        ]}
      />
    );
  }
  if (q.kind === "gearbox") {
    return (
      <TextInput
        aria-label="Which gear"
        leftSection="Gear"
        leftSectionWidth={52}
        w={120}
        maxLength={10}
        defaultValue={q.position}
        onBlur={(e) => e.currentTarget.value.trim() && onQuestion({ position: e.currentTarget.value.trim() })}
        onKeyDown={(e) => e.key === "Enter" && e.currentTarget.blur()}
      />
    );
  }
  if (q.kind === "planetary") {
    const ways: [string, string][] = [
      ["ring.sun", "ring held, sun driven"],
      ["ring.carrier", "ring held, carrier driven"],
      ["sun.ring", "sun held, ring driven"],
      ["sun.carrier", "sun held, carrier driven"],
      ["carrier.sun", "carrier held, sun driven"],
      ["carrier.ring", "carrier held, ring driven"],
    ];
    return (
      <NativeSelect
        aria-label="Which member is held and which is driven"
        value={`${q.held ?? "ring"}.${q.input ?? "sun"}`}
        onChange={(e) => {
          const [held, input] = e.currentTarget.value.split(".");
          onQuestion({ held, input });
        }}
        data={ways.map(([value, label]) => ({ value, label }))}
      />
    );
  }
  return null;
}

/** Who went to sign in to file it goes on where they left off. */
function useGoesOnFiling(may: boolean, open: () => void) {
  const [search, setSearch] = useSearchParams();
  const wanted = search.has("file") && may;
  useEffect(() => {
    if (!wanted) return;
    open();
    setSearch(
      (q) => {
        q.delete("file");
        return q;
      },
      { replace: true },
    );
  }, [wanted, open, setSearch]);
}

/** Throws the readings of this bench away, once more asked. */
function Discard({ store }: { store: string }) {
  return (
    <Menu>
      <Menu.Target>
        <Button variant="subtle" size="compact-sm" aria-label="More">
          <IconDots size={18} />
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item
          color="red"
          onClick={() => {
            if (window.confirm("Discard the readings on this bench? They are not filed anywhere.")) clearBench(store);
          }}
        >
          Discard these readings
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
