import { useDocumentTitle } from "@mantine/hooks";

/** Names the page in the browser's tab and history, most particular first. */
export function useTitle(...parts: (string | undefined)[]) {
  useDocumentTitle([...parts.filter(Boolean), "Zorvel"].join(" · "));
}
