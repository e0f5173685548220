/** A table as CSV, for the program's own import: cells as they are. */
export const csvText = (rows: string[][]) =>
  `${rows.map((r) => r.map((s) => (/[",\n]/.test(s) ? `"${s.replace(/"/g, '""')}"` : s)).join(",")).join("\r\n")}\r\n`;

/** Hands a table to the person as a CSV file. Text that a spreadsheet would take for a formula gets an apostrophe. */
export function downloadCSV(name: string, rows: (string | number)[][]) {
  const cell = (v: string | number) => {
    const s = String(v);
    const safe = /^[=+\-@]/.test(s) && !/^-?[\d.]+$/.test(s) ? `'${s}` : s;
    return /[",\n]/.test(safe) ? `"${safe.replace(/"/g, '""')}"` : safe;
  };
  const url = URL.createObjectURL(
    new Blob([`${rows.map((r) => r.map(cell).join(",")).join("\r\n")}\r\n`], { type: "text/csv" }),
  );
  const a = document.createElement("a");
  a.href = url;
  a.download = name;
  a.click();
  URL.revokeObjectURL(url);
}
