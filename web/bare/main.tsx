// A bare page, for what the first load is measured against: see bundle.mjs.
import "@mantine/core/styles.css";
import { Button, MantineProvider } from "@mantine/core";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <MantineProvider>
        <Button>Count</Button>
      </MantineProvider>
    </StrictMode>,
  );
