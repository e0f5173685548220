import { notifications } from "@mantine/notifications";
import { Workbox } from "workbox-window";

const benchOpen = () => /^\/(count|stages)\//.test(location.pathname);

/** How long after that the bench is fetched too, where none was opened. */
const unhurried = 30_000;

/** Fetches what the identify bench needs to answer without a server. */
export async function keepBench() {
  const worker = await navigator.serviceWorker.ready;
  worker.active?.postMessage("keep the bench");
}

/**
 * Keeps the pages on this device, so that counting works without a network. A new
 * version is loaded when the person says so: what was typed is kept either way.
 */
export function keepPages() {
  const box = new Workbox("/worker.js");
  box.addEventListener("waiting", () => {
    notifications.show({
      id: "new-version",
      title: "There is a new version",
      message: "Tap here to load it. What you typed stays.",
      autoClose: false,
      onClick: () => box.messageSkipWaiting(),
    });
  });
  box.addEventListener("controlling", (e) => {
    // The first worker takes a page that is up to date already.
    if (e.isUpdate) location.reload();
  });
  // Without it the pages work as before, with a network.
  box
    .register()
    .then(() => setTimeout(() => void keepBench(), benchOpen() ? 0 : unhurried))
    .catch(() => undefined);
}
