import type { RouteObject } from "react-router";
import { Broken, NotFound } from "./Astray";
import { Shell } from "./Shell";

/** Each screen is loaded when it is first asked for. */
export const ROUTES: RouteObject[] = [
  {
    element: <Shell />,
    children: [
      {
        errorElement: <Broken />,
        hydrateFallbackElement: <p className="p-8">Opening…</p>,
        children: [
          { path: "/", lazy: async () => ({ Component: (await import("../sheets/SheetsScreen")).SheetsScreen }) },
          { path: "/sheets/:id", lazy: async () => ({ Component: (await import("../sighting/SheetPage")).SheetPage }) },
          { path: "/sheets/:id/card", lazy: async () => ({ Component: (await import("../card/CardPage")).CardPage }) },
          { path: "/sheets/:id/plan", lazy: async () => ({ Component: (await import("../plan/PlanPage")).PlanPage }) },
          {
            path: "/sheets/:id/paper",
            lazy: async () => ({ Component: (await import("../paper/PaperPage")).SubjectPaper }),
          },
          { path: "/paper/new", lazy: async () => ({ Component: (await import("../paper/PaperPage")).NewPaper }) },
          { path: "/paper/:id", lazy: async () => ({ Component: (await import("../paper/PaperPage")).PaperPage }) },
          {
            path: "/stand",
            lazy: async () => ({ Component: (await import("../stand-room/StandsScreen")).StandsScreen }),
          },
          {
            path: "/stand/:id",
            lazy: async () => ({ Component: (await import("../stand-room/StandPage")).StandPage }),
          },
          { path: "*", element: <NotFound /> },
        ],
      },
    ],
  },
];
