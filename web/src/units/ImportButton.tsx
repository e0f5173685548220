import { Button } from "@mantine/core";
import { notifications } from "@mantine/notifications";
import { useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { useNavigate } from "react-router";
import { api, reason, take } from "../api/client";
import { askAnew } from "../api/keys";
import { importUnitZip } from "../api/zip";

/** Takes a unit's document in. */
export function ImportButton() {
  const navigate = useNavigate();
  const client = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const take_in = async (file: File | undefined) => {
    if (!file) return;
    try {
      const zip = /\.zip$/i.test(file.name) || file.type === "application/zip";
      const unit = zip
        ? await importUnitZip(file)
        : await take(api.POST("/units/import", { body: JSON.parse(await file.text()) }));
      askAnew(client, "units");
      navigate(`/units/${unit.id}`);
    } catch (e) {
      const message =
        e instanceof SyntaxError
          ? "This is not a unit file. Pick a unit's .json, or its .zip with photos and recordings."
          : reason(e);
      notifications.show({ color: "red", title: "Nothing imported", message, autoClose: 12_000 });
    }
  };
  return (
    <>
      <input
        ref={input}
        type="file"
        accept="application/json,.json,application/zip,.zip"
        hidden
        onChange={(e) => {
          void take_in(e.currentTarget.files?.[0]);
          e.currentTarget.value = "";
        }}
      />
      <Button variant="default" onClick={() => input.current?.click()}>
        Import a unit
      </Button>
    </>
  );
}
