import "@fontsource-variable/source-sans-3/wght.css";
import "./app.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { HotkeysProvider } from "react-hotkeys-hook";
import { createBrowserRouter, RouterProvider } from "react-router";
import { ROUTES } from "./routes";

const queries = new QueryClient({
  defaultOptions: {
    queries: { retry: 1, refetchOnWindowFocus: false, networkMode: "always" },
    mutations: { networkMode: "always" },
  },
});
const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <HotkeysProvider initiallyActiveScopes={[]}>
          <RouterProvider router={createBrowserRouter(ROUTES)} />
        </HotkeysProvider>
      </QueryClientProvider>
    </StrictMode>,
  );
