import { Alert, Button, FileInput, Modal, Table } from "@mantine/core";
import { IconDownload } from "@tabler/icons-react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { reason, type ShopImport } from "../api/client";
import { askAnew } from "../api/keys";
import { importShop } from "../api/zip";
import { useSession } from "../app/session";
import { useTitle } from "../app/title";
import { when } from "../format/numbers";
import classes from "./files.module.css";

/** Everything of the shop, out and in again. */
export function FilesPage() {
  useTitle("Back up, import, export");
  const owner = useSession().data?.person?.role === "owner";
  if (!owner)
    return (
      <main id="main" className="page">
        <h1>Back up, import, export</h1>
        <p>
          Only the owner can export or import the whole shop. To export a single unit, use the{" "}
          <Link to="/units">unit's page</Link>.
        </p>
      </main>
    );
  return (
    <main id="main" className="page">
      <h1>Back up, import, export</h1>
      <section className={classes.section}>
        <h2>Export everything</h2>
        <p>
          Every unit with its readings, choices, jobs, cards, photos and recordings, and the shop's lists: open files in
          one archive. Accounts are not included.
        </p>
        <div>
          <Button component="a" href="/api/v1/shop/export" download="shop.zip" leftSection={<IconDownload size={18} />}>
            Export the shop
          </Button>
        </div>
      </section>
      <TakeIn />
      <section className={classes.section}>
        <h2>Backup</h2>
        <p>
          A backup holds the whole database at one moment, accounts included, and restores into an empty database only.
          Run it where the server runs:
        </p>
        <pre>
          zorvel backup shop-backup.zip{"\n"}
          zorvel restore shop-backup.zip
        </pre>
      </section>
    </main>
  );
}

function TakeIn() {
  const client = useQueryClient();
  const [file, setFile] = useState<File | null>(null);
  const look = useMutation({ mutationFn: (f: File) => importShop(f, false) });
  const keep = useMutation({
    mutationFn: (f: File) => importShop(f, true),
    onSuccess: () => {
      setFile(null);
      look.reset();
      askAnew(client, "everything");
    },
  });
  const found = look.data;
  const error = look.error ?? keep.error;
  return (
    <section className={classes.section}>
      <h2>Import a shop</h2>
      <p>An export from here or another shop is added to what is here: all of it or nothing. It is checked first.</p>
      <div className="row wrap">
        <FileInput
          label="An exported shop"
          placeholder="shop.zip"
          w={280}
          accept="application/zip,.zip"
          value={file}
          onChange={(f) => {
            setFile(f);
            keep.reset();
            look.reset();
            if (f) look.mutate(f);
          }}
        />
        {look.isPending && <span role="status">Looking at every unit and photo of it…</span>}
      </div>
      {error && (
        <Alert color="red" title="Nothing imported" role="alert">
          {reason(error)}
        </Alert>
      )}
      {keep.data && (
        <Alert color="gray" title="Imported" role="status">
          {amounts(keep.data)}
        </Alert>
      )}
      {found && file && (
        <Modal opened onClose={() => setFile(null)} title="Import this shop?" size="lg">
          <div className="stack">
            <p>
              {found.made_at && `Exported ${when(found.made_at)}. `}
              {amounts(found)}
            </p>
            <Lists found={found} />
            {found.same_names.length > 0 && (
              <p className="trouble">
                {found.same_names.length === 1 ? "A unit with this name is" : "Units with these names are"} here
                already, and would be listed twice: {found.same_names.join(", ")}.
              </p>
            )}
            <div className="row">
              <Button loading={keep.isPending} onClick={() => keep.mutate(file)}>
                Add this
              </Button>
              <Button variant="default" data-autofocus onClick={() => setFile(null)}>
                Cancel
              </Button>
            </div>
          </div>
        </Modal>
      )}
    </section>
  );
}

const many = (n: number, one: string, more: string) => `${n} ${n === 1 ? one : more}`;

function amounts(x: ShopImport) {
  return `${many(x.units, "unit", "units")} with ${many(x.photos, "photo", "photos")} and ${many(x.recordings, "recording", "recordings")}, and what is missing here: ${many(x.parts, "part", "parts")}, ${many(x.cards, "version of a card", "versions of cards")} and ${many(x.filters, "saved filter", "saved filters")}.`;
}

function Lists({ found }: { found: ShopImport }) {
  if (found.lists.length === 0) return null;
  return (
    <Table>
      <Table.Thead>
        <Table.Tr>
          <Table.Th>List</Table.Th>
          <Table.Th>Rows added</Table.Th>
          <Table.Th>changed</Table.Th>
          <Table.Th>the same</Table.Th>
        </Table.Tr>
      </Table.Thead>
      <Table.Tbody>
        {found.lists.map((l) => (
          <Table.Tr key={l.list}>
            <Table.Th scope="row">{l.name}</Table.Th>
            <Table.Td>{l.added}</Table.Td>
            <Table.Td>{l.changed}</Table.Td>
            <Table.Td>{l.same}</Table.Td>
          </Table.Tr>
        ))}
      </Table.Tbody>
    </Table>
  );
}
