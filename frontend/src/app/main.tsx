import "@fontsource-variable/source-sans-3/wght.css";
import "./app.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";
import { SheetsScreen } from "../sheets/SheetsScreen";
import { SheetPage } from "../sighting/SheetPage";
import { Shell } from "./Shell";

const queries = new QueryClient({
  defaultOptions: {
    queries: { retry: 1, refetchOnWindowFocus: false, networkMode: "always" },
    mutations: { networkMode: "always" },
  },
});
const router = createBrowserRouter([
  {
    element: <Shell />,
    children: [
      { path: "/", element: <SheetsScreen /> },
      { path: "/sheets/:id", element: <SheetPage /> },
      { path: "*", element: <SheetsScreen /> },
    ],
  },
]);
const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <RouterProvider router={router} />
      </QueryClientProvider>
    </StrictMode>,
  );
