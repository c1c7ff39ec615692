import type { RouteObject } from "react-router";
import { t } from "../words";
import { Broken, NotFound } from "./Astray";
import { Shell } from "./Shell";

/** Each screen is loaded when it is first asked for. */
export const ROUTES: RouteObject[] = [
  { path: "/phone/:token", lazy: async () => ({ Component: (await import("../class/PhonePage")).PhonePage }) },
  {
    element: <Shell />,
    children: [
      {
        errorElement: <Broken />,
        hydrateFallbackElement: <p className="p-8">{t("app.routes.opening")}</p>,
        children: [
          { path: "/", lazy: async () => ({ Component: (await import("../class/ClassScreen")).FirstPage }) },
          { path: "/sheets", lazy: async () => ({ Component: (await import("../sheets/SheetsScreen")).SheetsScreen }) },
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
          {
            path: "/practice",
            lazy: async () => ({ Component: (await import("../practice/PracticeScreen")).PracticeScreen }),
          },
          {
            path: "/practice/sets/:id",
            lazy: async () => ({ Component: (await import("../practice/SetScreen")).SetScreen }),
          },
          {
            path: "/practice/questions/:id",
            lazy: async () => ({ Component: (await import("../practice/SetScreen")).QuestionScreen }),
          },
          {
            path: "/practice/timed",
            lazy: async () => ({ Component: (await import("../practice/TimedStart")).TimedStart }),
          },
          {
            path: "/practice/timed/:id",
            lazy: async () => ({ Component: (await import("../practice/TimedScreen")).TimedScreen }),
          },
          {
            path: "/logbook",
            lazy: async () => ({ Component: (await import("../logbook/LogbookScreen")).LogbookScreen }),
          },
          {
            path: "/worksheets",
            lazy: async () => ({ Component: (await import("../worksheets/WorksheetsScreen")).WorksheetsScreen }),
          },
          { path: "/class", lazy: async () => ({ Component: (await import("../class/ClassScreen")).ClassScreen }) },
          {
            path: "/class/:classId",
            lazy: async () => ({ Component: (await import("../class/ClassScreen")).ClassScreen }),
          },
          {
            path: "/class/:classId/board",
            lazy: async () => ({ Component: (await import("../class/BoardScreen")).BoardScreen }),
          },
          {
            path: "/class/:classId/assignments",
            lazy: async () => ({ Component: (await import("../class/AssignmentsScreen")).AssignmentsScreen }),
          },
          {
            path: "/class/:classId/pieces/:pieceId",
            lazy: async () => ({ Component: (await import("../class/ReviewScreen")).ReviewScreen }),
          },
          {
            path: "/class/:classId/room",
            lazy: async () => ({ Component: (await import("../class/RoomScreen")).RoomScreen }),
          },
          {
            path: "/class/:classId/answer",
            lazy: async () => ({ Component: (await import("../class/AnswerScreen")).AnswerScreen }),
          },
          {
            path: "/class/:classId/people",
            lazy: async () => ({ Component: (await import("../class/PeopleScreen")).PeopleScreen }),
          },
          { path: "/me", lazy: async () => ({ Component: (await import("../class/MeScreen")).MeScreen }) },
          { path: "/join", lazy: async () => ({ Component: (await import("../class/JoinScreen")).JoinScreen }) },
          { path: "/join/:code", lazy: async () => ({ Component: (await import("../class/JoinScreen")).JoinScreen }) },
          { path: "*", element: <NotFound /> },
        ],
      },
    ],
  },
];
