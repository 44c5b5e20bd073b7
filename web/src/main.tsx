import "@fontsource-variable/atkinson-hyperlegible-mono/wght.css";
import "@fontsource-variable/atkinson-hyperlegible-next/wght.css";
import "./theme/tokens.css";
import "./theme/base.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { App as AntApp, ConfigProvider } from "antd";
import { StrictMode, useMemo } from "react";
import { createRoot } from "react-dom/client";
import { RouterProvider } from "react-router";
import { router } from "./app/router";
import { antTheme } from "./theme/antd";
import { useScheme } from "./theme/scheme";

const nonce = document.querySelector<HTMLElement>("meta[property=csp-nonce]")?.nonce ?? "";
const queries = new QueryClient({
  defaultOptions: { queries: { networkMode: "always", retry: 1, staleTime: 5000 }, mutations: { networkMode: "always" } },
});

function Root() {
  const scheme = useScheme();
  const theme = useMemo(() => antTheme(scheme), [scheme]);
  return (
    <ConfigProvider theme={theme} csp={{ nonce }}>
      <AntApp>
        <QueryClientProvider client={queries}>
          <RouterProvider router={router} />
        </QueryClientProvider>
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
