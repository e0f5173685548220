import { Button, Loader, Textarea } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { IconPrinter } from "@tabler/icons-react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { blocking } from "../../api/blocking";
import { api, Refused, take, type WorkCard } from "../../api/client";
import { askAnew, key } from "../../api/keys";
import { Band } from "../../app/Band";
import { useMaySave } from "../../app/session";
import { useTitle } from "../../app/title";
import { SignInFirst } from "../../people/SignInFirst";
import classes from "./cards.module.css";
import { StepPicture } from "./StepPicture";
import { StepsEditor } from "./StepsEditor";

/** A card as it is: read, printed, and changed to the shop's own way. */
export function CardPage() {
  const id = useParams().card ?? "";
  const maySave = useMaySave();
  const doc = useQuery({
    queryKey: key.card(id),
    queryFn: () => take(api.GET("/cards/{card}", { params: { path: { card: id } } })),
  });
  const [draft, setDraft] = useState<WorkCard>();
  const [text, setText] = useState<string>();
  useTitle(doc.data?.card.title ?? "Work card");
  const keep = useKeepCard(id, doc.data?.newest ?? 0, () => {
    setDraft(undefined);
    setText(undefined);
  });
  const stop = blocking(doc);
  if (stop) return <SignInFirst error={stop} />;
  if (!doc.data) return <Loader m="xl" />;
  const { card, version } = doc.data;
  return (
    <>
      <Band className="no-print">
        <h1>{card.title}</h1>
        <p>{version > 0 ? `Your version ${version}, by ${doc.data.by}` : "As it ships"}</p>
      </Band>
      <main id="main" className="page">
        <div className="row wrap no-print">
          {!draft && maySave && (
            <Button variant="default" onClick={() => setDraft(structuredClone(card))}>
              Change to our way
            </Button>
          )}
          {!draft && maySave && (
            <Button variant="default" onClick={() => setText(JSON.stringify(card, null, 2))}>
              As a document
            </Button>
          )}
          <Button
            variant="default"
            component="a"
            href={`/api/v1/cards/${id}/pdf`}
            target="_blank"
            leftSection={<IconPrinter size={16} />}
          >
            Print blank
          </Button>
        </div>
        {keep.error && <Faults error={keep.error} />}
        {text !== undefined && <AsDocument text={text} onText={setText} busy={keep.isPending} onKeep={keep.mutate} />}
        {draft ? (
          <StepsEditor
            draft={draft}
            setDraft={setDraft}
            busy={keep.isPending}
            keep={() => keep.mutate(draft)}
            leave={() => setDraft(undefined)}
          />
        ) : (
          <Reading card={card} />
        )}
      </main>
    </>
  );
}

function Reading({ card }: { card: WorkCard }) {
  const ask = Object.fromEntries((card.conditions ?? []).map((c) => [c.id, c.ask]));
  return (
    <>
      {card.conditions && card.conditions.length > 0 && (
        <p className="dim">Asked first: {card.conditions.map((c) => c.ask).join(" ")}</p>
      )}
      <ol className={classes.reading}>
        {card.steps.map((s) => (
          <li key={s.id}>
            <div>
              <b>{s.do}</b>
              {s.when && s.when.length > 0 && (
                <small className="dim">
                  {" "}
                  only if:{" "}
                  {s.when.map((w) => (w.startsWith("!") ? `not “${ask[w.slice(1)]}”` : `“${ask[w]}”`)).join(", ")}
                </small>
              )}
              {s.hold && <small> · a second person looks</small>}
              {s.gate && <small> · a gate: what is open comes first</small>}
              {s.caution && <p className={classes.caution}>△ {s.caution}</p>}
              {s.with && <p>With: {s.with}</p>}
              {s.look && <p>Look: {s.look}</p>}
              {s.figure && <p>Write in: {s.figure}</p>}
              {s.off && (
                <p>
                  Comes off: {s.off}. Back: {s.back}.
                </p>
              )}
            </div>
            {s.picture && <StepPicture of={s.picture} />}
          </li>
        ))}
      </ol>
    </>
  );
}

/** Keeps a card as the shop's own next version. */
function useKeepCard(id: string, newest: number, onKept: () => void) {
  const client = useQueryClient();
  const navigate = useNavigate();
  return useMutation({
    mutationFn: (card: WorkCard) =>
      take(
        api.PUT("/cards/{card}", {
          params: { path: { card: card.id } },
          body: { card, base: card.id === id ? newest : 0 },
        }),
      ),
    onSuccess: (d) => {
      client.setQueryData(key.card(d.card.id), d);
      askAnew(client, "cards");
      onKept();
      notifications.show({ message: `Saved as your version ${d.version}. Cards already started stay on theirs.` });
      if (d.card.id !== id) navigate(`/cards/${d.card.id}`);
    },
  });
}

/** What of the card can't be so, by its place in the document. */
function Faults({ error }: { error: Error }) {
  const faults = error instanceof Refused ? error.faults : [];
  return (
    <ul className="trouble">
      {faults.length > 0 ? (
        faults.map((f) => <li key={f.field}>{`${f.field}: ${f.message}`}</li>)
      ) : (
        <li>{error.message}</li>
      )}
    </ul>
  );
}

interface DocumentProps {
  text: string;
  onText: (text?: string) => void;
  busy: boolean;
  onKeep: (card: WorkCard) => void;
}

/** The card as it leaves, to be copied or changed as text. */
function AsDocument({ text, onText, busy, onKeep }: DocumentProps) {
  const fromText = () => {
    try {
      onKeep(JSON.parse(text) as WorkCard);
    } catch (e) {
      notifications.show({ color: "red", message: `This is not JSON: ${e instanceof Error ? e.message : e}` });
    }
  };
  return (
    <section className="stack" aria-label="As a document">
      <Textarea
        label="The card as JSON"
        description="Copy it, or change it here. Another id makes another card."
        value={text}
        autosize
        minRows={12}
        maxRows={30}
        classNames={{ input: classes.code }}
        onChange={(e) => onText(e.currentTarget.value)}
      />
      <div className="row">
        <Button loading={busy} onClick={fromText}>
          Save as our own
        </Button>
        <Button variant="default" onClick={() => onText(undefined)}>
          Leave
        </Button>
      </div>
    </section>
  );
}
