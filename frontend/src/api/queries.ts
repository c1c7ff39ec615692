/** What screens ask and keep: one key and one fetch for each. */
import { queryOptions } from "@tanstack/react-query";
import { ApiError, call } from "./client";

/** Who is asking. */
export const meQuery = queryOptions({
  queryKey: ["me"],
  queryFn: () => call("get", "/api/me"),
  staleTime: Number.POSITIVE_INFINITY,
});

export const classQuery = (id: string) =>
  queryOptions({
    queryKey: ["class", id],
    queryFn: () => call("get", "/api/classes/{class_id}", { path: { class_id: id } }),
  });

export const todayQuery = (id: string) =>
  queryOptions({
    queryKey: ["today", id],
    queryFn: () => call("get", "/api/classes/{class_id}/today", { path: { class_id: id } }),
  });

export const assignmentsQuery = (id: string) =>
  queryOptions({
    queryKey: ["assignments", id],
    queryFn: () => call("get", "/api/classes/{class_id}/assignments", { path: { class_id: id } }),
  });

export const templatesQuery = queryOptions({
  queryKey: ["assignment templates"],
  queryFn: () => call("get", "/api/assignment-templates"),
  staleTime: Number.POSITIVE_INFINITY,
});

export const boardQuery = (id: string) =>
  queryOptions({
    queryKey: ["board", id],
    queryFn: () => call("get", "/api/classes/{class_id}/board", { path: { class_id: id } }),
  });

export const pieceQuery = (id: string) =>
  queryOptions({
    queryKey: ["piece", id],
    queryFn: () => call("get", "/api/hand-ins/{hand_in_id}", { path: { hand_in_id: id } }),
    retry: false,
  });

export const phrasesQuery = queryOptions({ queryKey: ["phrases"], queryFn: () => call("get", "/api/phrases") });

/** What came back on a sheet or drawing. */
export const remarksQuery = (sheet: string) =>
  queryOptions({
    queryKey: ["remarks", sheet],
    queryFn: () => call("get", "/api/sheets/{sheet_id}/remarks", { path: { sheet_id: sheet } }),
  });

/** The question that runs; asked again and again where `every` says how often, and when a device wakes up. */
export const roomQuery = (id: string, every: number | false) =>
  queryOptions({
    queryKey: ["room", id],
    queryFn: () => call("get", "/api/classes/{class_id}/room", { path: { class_id: id } }),
    refetchInterval: every,
    refetchOnWindowFocus: true,
  });

export const answersQuery = (question: string, who: boolean, every: number) =>
  queryOptions({
    queryKey: ["answers", question, who],
    queryFn: () => call("get", "/api/room/{question_id}/answers", { path: { question_id: question }, query: { who } }),
    refetchInterval: every,
    placeholderData: (before) => before,
  });

/** The exercises that worksheets are made of. */
export const exercisesQuery = queryOptions({
  queryKey: ["exercises"],
  queryFn: () => call("get", "/api/worksheets/exercises"),
  staleTime: Number.POSITIVE_INFINITY,
});

export const worksheetsQuery = queryOptions({
  queryKey: ["worksheets"],
  queryFn: () => call("get", "/api/worksheets"),
});

export const sheetsQuery = queryOptions({ queryKey: ["sheets"], queryFn: () => call("get", "/api/sheets") });

export const standsQuery = queryOptions({ queryKey: ["stands"], queryFn: () => call("get", "/api/stands") });

export const readStand = (id: string) => call("get", "/api/stands/{stand_id}", { path: { stand_id: id } });

export const readSheet = (id: string) => call("get", "/api/sheets/{sheet_id}", { path: { sheet_id: id } });

/** What is read afresh each time it is opened: a sheet, a set-up. */
export const openedQuery = <F>(queryKey: string[], queryFn: () => Promise<F>) =>
  queryOptions({
    queryKey,
    queryFn,
    // what is gone is gone: asking again does not bring it back
    retry: (failures, error) => failures < 1 && !(error instanceof ApiError && error.status === 404),
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });

export const drawingsQuery = (subject: string) =>
  queryOptions({
    queryKey: ["drawings", subject],
    queryFn: () => call("get", "/api/sheets/{sheet_id}/drawings", { path: { sheet_id: subject } }),
  });

/** A drawing with the subject that it is judged against. */
export const drawingQuery = (id: string) =>
  queryOptions({
    queryKey: ["drawing", id],
    queryFn: () => call("get", "/api/drawings/{sheet_id}", { path: { sheet_id: id } }),
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });

/** The sizes of paper that have a name. */
export const papersQuery = queryOptions({
  queryKey: ["papers"],
  queryFn: () => call("get", "/api/papers"),
  staleTime: Number.POSITIVE_INFINITY,
});

/** The person's own arm, and the cautions. */
export const easelQuery = queryOptions({ queryKey: ["easel"], queryFn: () => call("get", "/api/easel") });

/** What was noted for next time on the last drawing of such forms. */
export const nextTimeQuery = (sheet: string) =>
  queryOptions({
    queryKey: ["next-time", sheet],
    queryFn: () => call("get", "/api/sheets/{sheet_id}/next-time", { path: { sheet_id: sheet } }),
    staleTime: 0,
  });

/** The skills that can be practised. */
export const skillsQuery = queryOptions({
  queryKey: ["skills"],
  queryFn: () => call("get", "/api/practice/skills"),
  staleTime: Number.POSITIVE_INFINITY,
});

export const setsQuery = queryOptions({ queryKey: ["sets"], queryFn: () => call("get", "/api/practice/sets") });

export const timedQuery = queryOptions({ queryKey: ["timed"], queryFn: () => call("get", "/api/timed") });

/** How every skill stands now. */
export const logbookQuery = queryOptions({
  queryKey: ["logbook"],
  queryFn: () => call("get", "/api/logbook"),
  staleTime: 0,
});
