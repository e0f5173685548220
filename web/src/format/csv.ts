import Papa from "papaparse";

/** A table as CSV, for the program's own import: cells as they are. */
export const csvText = (rows: string[][]) => `${Papa.unparse(rows)}\r\n`;

/** What a spreadsheet would take for a formula; a negative number is none. */
const formula = /^[=+@\t\r]|^-(?![\d.]+$)/;

/** Hands a table to the person as a CSV file. Text that a spreadsheet would take for a formula gets an apostrophe. */
export function downloadCSV(name: string, rows: (string | number)[][]) {
  const text = `${Papa.unparse(rows, { escapeFormulae: formula })}\r\n`;
  const url = URL.createObjectURL(new Blob([text], { type: "text/csv" }));
  const a = document.createElement("a");
  a.href = url;
  a.download = name;
  a.click();
  URL.revokeObjectURL(url);
}
