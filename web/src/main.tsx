import createCache from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import "@fontsource/atkinson-hyperlegible-mono/400.css";
import "@fontsource/atkinson-hyperlegible-next/400-italic.css";
import "@fontsource/atkinson-hyperlegible-next/400.css";
import "@fontsource/atkinson-hyperlegible-next/600.css";
import "./digits.css";
import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { AddressState } from "./parts/AddressState";
import { RouterProvider } from "react-router";
import { queries } from "./api/queries";
import { nonce } from "./nonce";
import { router } from "./router";
import { theme } from "./theme";

const styles = createCache({ key: "y", nonce, prepend: true });

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <CacheProvider value={styles}>
        <ThemeProvider theme={theme} defaultMode="system">
          <CssBaseline />
          <QueryClientProvider client={queries}>
            <AddressState>
              <RouterProvider router={router} />
            </AddressState>
          </QueryClientProvider>
        </ThemeProvider>
      </CacheProvider>
    </StrictMode>,
  );
}
