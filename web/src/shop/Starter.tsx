import { Button, TextInput } from "@mantine/core";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type CatalogList, type CatalogName, take } from "../api/client";
import { key } from "../api/keys";
import { csvText } from "../format/csv";
import "./shop.css";

/** An empty list may begin from what is commonly made: the shop takes over what it knows. */
export function Starter({
  list,
  name,
  onTake,
}: {
  list: CatalogList;
  name: CatalogName;
  /** Hands over the chosen rows as CSV, to be looked at before they are kept. */
  onTake: (csv: string) => void;
}) {
  const rows = useQuery({
    queryKey: key.starter(name),
    queryFn: () => take(api.GET("/catalog/{list}/starter", { params: { path: { list: name } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [family, setFamily] = useState("");
  if (!rows.data || rows.data.length === 0) return null;
  const all = rows.data;
  const needsFamily = list.columns.some((c) => c.key === "family" && c.required);
  const words = (r: Record<string, string>) =>
    list.columns
      .filter((c) => r[c.key] && !["kind", "construction"].includes(c.key))
      .map((c) => c.choices?.find((o) => o.value === r[c.key])?.words ?? r[c.key])
      .join(" · ");
  const toggle = (i: number) => {
    const next = new Set(chosen);
    if (!next.delete(i)) next.add(i);
    setChosen(next);
  };
  const takeOver = () => {
    const keys = list.columns.map((c) => c.key);
    const picked = all.filter((_, i) => chosen.has(i)).map((r) => (needsFamily ? { ...r, family: family.trim() } : r));
    onTake(csvText([keys, ...picked.map((r) => keys.map((k) => (r as Record<string, string>)[k] ?? ""))]));
  };
  return (
    <section className="starter" aria-label="Starter list">
      <h2>Start from what is commonly made</h2>
      <p className="dim">
        Nothing entered yet. Pick what this shop works with; you can check it before it is saved. Commonly made does not
        mean it fits a given housing. None of it has a price yet.
      </p>
      <div className="row wrap bottom">
        {needsFamily && (
          <TextInput
            label="Family these fit"
            placeholder="one name for all that swap with each other"
            w={300}
            value={family}
            maxLength={60}
            onChange={(e) => setFamily(e.currentTarget.value)}
          />
        )}
        <Button variant="default" onClick={() => setChosen(new Set(chosen.size === all.length ? [] : all.keys()))}>
          {chosen.size === all.length ? "Uncheck all" : "Check all"}
        </Button>
        <Button disabled={chosen.size === 0 || (needsFamily && !family.trim())} onClick={takeOver}>
          {chosen.size > 0 ? `Add ${chosen.size} to the list` : "Add to the list"}
        </Button>
      </div>
      <ul className="starter-rows">
        {all.map((r, i) => (
          <li key={JSON.stringify(r)}>
            <label>
              <input type="checkbox" checked={chosen.has(i)} onChange={() => toggle(i)} /> {words(r)}
            </label>
          </li>
        ))}
      </ul>
    </section>
  );
}
