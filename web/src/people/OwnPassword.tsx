import { Button, Modal, PasswordInput } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useMutation } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, Refused, take } from "../api/client";
import { useSetSession } from "../app/session";

/** A new password for whoever is signed in. */
export function OwnPassword({ onClose }: { onClose: () => void }) {
  const setSession = useSetSession();
  const [current, setCurrent] = useState("");
  const [password, setPassword] = useState("");
  const change = useMutation({
    mutationFn: () => take(api.POST("/session/password", { body: { current, password } })),
    onSuccess: (s) => {
      setSession(s);
      notifications.show({ message: "Your password is changed. Other devices have to sign in again." });
      onClose();
    },
  });
  const refused = change.error instanceof Refused ? change.error : undefined;
  const submit = (e: FormEvent) => {
    e.preventDefault();
    change.mutate();
  };
  return (
    <Modal opened onClose={onClose} title="Change your password">
      <form className="stack" onSubmit={submit}>
        <PasswordInput
          label="Password now"
          value={current}
          onChange={(e) => setCurrent(e.currentTarget.value)}
          error={refused?.at("/current")}
          autoComplete="current-password"
          data-autofocus
          required
        />
        <PasswordInput
          label="New password"
          description="At least 10 characters"
          value={password}
          onChange={(e) => setPassword(e.currentTarget.value)}
          error={refused?.at("/password")}
          autoComplete="new-password"
          required
        />
        {change.error && !refused?.faults.length && <p className="trouble">{change.error.message}</p>}
        <Button type="submit" loading={change.isPending}>
          Change
        </Button>
      </form>
    </Modal>
  );
}
