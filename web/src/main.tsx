import "@fontsource-variable/atkinson-hyperlegible-mono/wght.css";
import "@fontsource-variable/atkinson-hyperlegible-next/wght.css";
import "./theme/tokens.css";
import "./theme/base.css";
import { QueryClient } from "@tanstack/react-query";
import { PersistQueryClientProvider } from "@tanstack/react-query-persist-client";
import { App as AntApp, ConfigProvider } from "antd";
import { StrictMode, useMemo } from "react";
import { createRoot } from "react-dom/client";
import { RouterProvider } from "react-router";
import { followChanges, refetch } from "./api/changes";
import { keepLong, keptInBrowser } from "./app/kept";
import { router } from "./app/router";
import { antTheme } from "./theme/antd";
import { useScheme } from "./theme/scheme";

const nonce = document.querySelector<HTMLElement>("meta[property=csp-nonce]")?.nonce ?? "";
const queries = new QueryClient({
  defaultOptions: { queries: { networkMode: "always", retry: 1, staleTime: 5000 }, mutations: { networkMode: "always" } },
});

keepLong(queries);
followChanges(queries);
// Only the built application is kept; while it is being developed it changes under the page.
if (import.meta.env.PROD && "serviceWorker" in navigator) void navigator.serviceWorker.register("/sw.js");

function Root() {
  const scheme = useScheme();
  const theme = useMemo(() => antTheme(scheme), [scheme]);
  return (
    <ConfigProvider theme={theme} csp={{ nonce }}>
      <AntApp>
        <PersistQueryClientProvider
          client={queries}
          persistOptions={keptInBrowser}
          onSuccess={() => {
            // What this browser kept may be a moment older than what was said meanwhile.
            refetch(queries, "everything");
          }}
        >
          <RouterProvider router={router} />
        </PersistQueryClientProvider>
      </AntApp>
    </ConfigProvider>
  );
}

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <Root />
    </StrictMode>,
  );
