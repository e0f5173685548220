import { Button } from "@mantine/core";
import { IconDownload } from "@tabler/icons-react";
import { type ReactNode, useState } from "react";
import { downloadCSV } from "../format/csv";
import "./drawing.css";

export type Cell = number | null;
/** What a chart is drawn from. */
export type Data = { head: string[]; rows: (string | Cell)[][] };

/** How recharts draws axes and hints here. */
export const axis = { stroke: "var(--ink-2)", fontSize: 13 };
export const hint = {
  contentStyle: {
    background: "var(--paper-2)",
    border: "1px solid var(--line)",
    color: "var(--ink)",
    padding: "4px 8px",
  },
  itemStyle: { padding: 0, fontSize: 13, lineHeight: 1.25 },
};

/** A chart with the data that it is drawn from under it. */
export function Figure({
  title,
  note,
  file,
  data,
  children,
}: {
  title: string;
  note: string;
  file: string;
  data: Data;
  children: ReactNode;
}) {
  const [open, setOpen] = useState(false);
  return (
    <figure className="figure-box">
      <figcaption className="row spread">
        <span>
          <b>{title}</b> <span className="dim">{note}</span>
        </span>
        <Button
          className="no-print"
          size="compact-sm"
          variant="default"
          aria-label={`CSV, ${title}`}
          leftSection={<IconDownload size={14} />}
          onClick={() =>
            downloadCSV(
              file,
              [data.head, ...data.rows].map((r) => r.map((c) => c ?? "")),
            )
          }
        >
          CSV
        </Button>
      </figcaption>
      {children}
      <details className="no-print" onToggle={(e) => setOpen(e.currentTarget.open)}>
        <summary>Data</summary>
        {open && (
          <div className="scroll figure-data">
            <table className="figures">
              <thead>
                <tr>
                  {data.head.map((h) => (
                    <th key={h}>{h}</th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {data.rows.map((r) => (
                  <tr key={String(r[0])}>
                    {r.map((c, i) => (
                      <td key={data.head[i]} className="num">
                        {c}
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        )}
      </details>
    </figure>
  );
}
