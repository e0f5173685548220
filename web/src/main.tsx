import "@fontsource/barlow/latin-400.css";
import "@fontsource/barlow/latin-500.css";
import "@fontsource/barlow/latin-600.css";
import "@fontsource/barlow-condensed/latin-500.css";
import "@fontsource/barlow-condensed/latin-600.css";
import "@fontsource/barlow-condensed/latin-700.css";
import "./app/tokens.css";
import "./app/mantine";
import "./app/base.css";
import "./app/touch.css";
import "./app/utilities.css";
import "./app/bands.css";
import "./drawing/strokes.css";
import "./app/states.css";
import "./app/start.css";
import "./drawing/ratioRule.css";
import { MantineProvider } from "@mantine/core";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { Refused } from "./api/client";
import { App } from "./app/App";
import { Spare } from "./app/Mishap";
import { theme } from "./app/theme";

const Notifications = lazy(() =>
  Promise.all([import("@mantine/notifications"), import("./app/laterStyles")]).then(([m]) => ({
    default: m.Notifications,
  })),
);

const client = new QueryClient({
  defaultOptions: {
    // What the browser thinks of the network stops nothing: the pages and the bench answer without one.
    queries: {
      // A server that lost its database for a moment says so; a refusal stays one.
      retry: (n, e) => n < 2 && (!(e instanceof Refused) || e.status === 503),
      refetchOnWindowFocus: false,
      staleTime: 5_000,
      networkMode: "offlineFirst",
    },
    mutations: { networkMode: "always" },
  },
});

// The rest of the pages is fetched once the first one stands.
if (import.meta.env.PROD && "serviceWorker" in navigator)
  window.addEventListener("load", () => setTimeout(() => import("./app/worker").then((m) => m.keepPages()), 4_000));

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <MantineProvider theme={theme} defaultColorScheme="auto">
        <QueryClientProvider client={client}>
          <BrowserRouter>
            <Spare>
              <Notifications position="bottom-left" limit={3} />
            </Spare>
            <App />
          </BrowserRouter>
        </QueryClientProvider>
      </MantineProvider>
    </StrictMode>,
  );
}
