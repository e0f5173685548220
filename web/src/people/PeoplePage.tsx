import { Alert, Button, PasswordInput, Select, Switch, Table, TextInput } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, type Person, Refused, type Role, take } from "../api/client";
import { askAnew, key } from "../api/keys";
import { useTitle } from "../app/title";

const roles: { value: Role; label: string }[] = [
  { value: "owner", label: "owner: everything, and people" },
  { value: "technician", label: "technician: counts and saves" },
  { value: "viewer", label: "viewer: reads only" },
];

export function PeoplePage() {
  useTitle("People");
  const client = useQueryClient();
  const people = useQuery({ queryKey: key.people(), queryFn: () => take(api.GET("/people")) });
  const refresh = () => askAnew(client, "people");
  const change = useMutation({
    mutationFn: ({ id, ...body }: { id: number; version: number; role?: Role; active?: boolean }) =>
      take(api.PATCH("/people/{id}", { params: { path: { id } }, body })),
    onSuccess: refresh,
    onError: (e) => {
      notifications.show({ color: "red", message: e.message });
      void refresh();
    },
  });
  const rows: Person[] = people.data ?? [];
  return (
    <main id="main" className="page">
      <h1>People</h1>
      {people.error && <Alert color="red">{people.error.message}</Alert>}
      <div className="two-columns">
        <Table verticalSpacing="sm">
          <Table.Thead>
            <Table.Tr>
              <Table.Th>Name</Table.Th>
              <Table.Th>Signs in as</Table.Th>
              <Table.Th>May</Table.Th>
              <Table.Th>Account works</Table.Th>
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            {rows.map((p) => (
              <Table.Tr key={p.id}>
                <Table.Td>{p.name}</Table.Td>
                <Table.Td>{p.sign_in}</Table.Td>
                <Table.Td>
                  <Select
                    aria-label={`Role of ${p.name}`}
                    data={roles}
                    value={p.role}
                    allowDeselect={false}
                    onChange={(v) => v && change.mutate({ id: p.id, version: p.version, role: v as Role })}
                  />
                </Table.Td>
                <Table.Td>
                  <Switch
                    aria-label={`Account of ${p.name} works`}
                    checked={p.active}
                    onChange={(e) => change.mutate({ id: p.id, version: p.version, active: e.currentTarget.checked })}
                  />
                </Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
        <AddPerson onAdded={refresh} />
      </div>
    </main>
  );
}

const blank = { sign_in: "", name: "", password: "", role: "technician" as Role };

function AddPerson({ onAdded }: { onAdded: () => void }) {
  const [v, setV] = useState(blank);
  const add = useMutation({
    mutationFn: () => take(api.POST("/people", { body: v })),
    onSuccess: () => {
      setV(blank);
      onAdded();
    },
  });
  const refused = add.error instanceof Refused ? add.error : undefined;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    add.mutate();
  };
  return (
    <form className="stack panel" onSubmit={submit}>
      <h2>Add someone</h2>
      <TextInput
        label="Name"
        value={v.name}
        onChange={(e) => setV({ ...v, name: e.currentTarget.value })}
        error={refused?.at("/name")}
        required
      />
      <TextInput
        label="Sign-in name"
        description="Small letters and digits"
        value={v.sign_in}
        onChange={(e) => setV({ ...v, sign_in: e.currentTarget.value })}
        error={refused?.at("/sign_in")}
        required
      />
      <PasswordInput
        label="First password"
        description="At least 10 characters"
        value={v.password}
        onChange={(e) => setV({ ...v, password: e.currentTarget.value })}
        error={refused?.at("/password")}
        autoComplete="new-password"
        required
      />
      <Select
        label="May"
        data={roles}
        value={v.role}
        allowDeselect={false}
        onChange={(r) => r && setV({ ...v, role: r as Role })}
      />
      {add.error && !refused?.faults.length && <Alert color="red">{add.error.message}</Alert>}
      <Button type="submit" loading={add.isPending}>
        Add
      </Button>
    </form>
  );
}
