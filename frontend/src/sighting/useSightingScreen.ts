import { useCallback, useEffect, useMemo, useState } from "react";
import { call } from "../api/client";
import {
  formIdOf,
  isEdge,
  isRim,
  looksStraight,
  type Picture,
  pointOf,
  type Report,
  type Sheet,
  type SheetFull,
} from "../api/types";
import { hasJudged, isLessSure, sightingsOf, unitOf, withoutProposals } from "../sheet/edits";
import type { Tabs } from "../sheet/stash";
import { useJudgeFirst } from "../sheet/useJudgeFirst";
import { type OpenSheet, useSheet } from "../sheet/useSheet";
import { middleOf, type Size, type View } from "../stage/geometry";
import { isQuiet, type Task } from "../stage/task";
import { useStoredSwitch } from "../ui/settings";
import { t } from "../words";
import { ofForm, probeWords } from "./ProbeCard";
import { useFan } from "./useFan";
import { FINGER_SCREEN_PX } from "./useHandState";
import { useLook } from "./useLook";
import { useMeasuring } from "./useMeasuring";
import { useProbe } from "./useProbe";
import { useSighting } from "./useSighting";
import { useSightingKeys } from "./useSightingKeys";

/** A sheet that is open on the sighting screen: what is found, judged and shown of it, and every hand that works on it. */
export function useSightingScreen(full: SheetFull & { picture: Picture }, tabs: Tabs) {
  const open = useSheet(full, tabs);
  const { sheet, report } = open;
  const { picture } = full;
  const { judgeFirst, setJudgeFirst, settled } = useJudgeFirst(full.assignment);
  const mayLook = full.assignment?.found_shown !== false;
  const [lookUnasked, setLookUnasked] = useStoredSwitch("look-unasked", true);
  const isNew = !sheet.stand && !sheet.found && sightingsOf(sheet).length === 0;
  const found = useLook(picture, lookUnasked && isNew && mayLook);
  const look = mayLook ? found.look : null;
  const sighting = useSighting(
    open,
    judgeFirst,
    picture.id,
    found.looking.kind === "looked" ? found.looking.look.found : null,
  );
  const { selected, task, form, sheetNow } = sighting;
  const [place, setPlace] = useState<{ view: View; size: Size } | null>(null);
  const [rimsShown, setRimsShown] = useState(false);
  const [truthShown, setTruthShown] = useState(false);
  const levelIsSet = !!sheet.eye_level && !looksStraight(sheet);
  const resting = judgeFirst && isQuiet(task);
  const levelJudging = task.kind === "level" ? task : null;
  // what was found in the picture is an answer like any other
  const unjudged = judgeFirst && !hasJudged(sheet);
  const shownOf = useShown(sheet, report, { resting, unjudged, mayLook, levelJudging });
  const turnRims = useCallback(() => setRimsShown((old) => !old), []);
  const turnTruth = useCallback(() => setTruthShown((old) => !old), []);
  const { setSaid, reach } = sighting;
  if (place) reach.current = FINGER_SCREEN_PX / place.view.k;
  const offer = useOffer(open, sighting, picture.id);
  const turnJudging = useCallback(() => {
    if (settled) {
      setSaid(t("sighting.sightingScreen.judgedFirstSet"));
      return;
    }
    setJudgeFirst(!judgeFirst);
    setSaid(judgeFirst ? t("sighting.sightingScreen.judgeFirstOff") : t("sighting.sightingScreen.judgeFirstOn"));
  }, [judgeFirst, setJudgeFirst, settled, setSaid]);

  const chosen = sightingsOf(sheet).find((s) => s.id === selected) ?? null;
  const chosenForm = chosen && formIdOf(sheet, chosen);
  const { setForm } = sighting;
  useEffect(() => {
    // what is added next most often belongs to the form in hand
    if (chosenForm) setForm(chosenForm);
  }, [chosenForm, setForm]);
  const chosenRim = chosen && isRim(chosen) ? chosen : null;
  const { probe, onProbe, onHover, holdKey } = useProbe(sheet, task.kind === "look");
  const startProbe = useCallback(() => {
    const { width_px = 0, height_px = 0 } = sheetNow.current.picture ?? {};
    holdKey([width_px / 2, height_px / 2]);
  }, [holdKey, sheetNow]);
  const measuring = useMeasuring(sheet);
  useSightingKeys(open, sighting, measuring, turnRims, startProbe, turnJudging, turnTruth, look);
  const shownProbe = probe && { ...probe, answer: ofForm(probe.answer, form) };
  const probeSaid = shownProbe ? probeWords(shownProbe.answer) : "";
  const unit = unitOf(sheet);
  const fan = useFan(sheet, report, chosen);
  const finding = chosen ? report.findings.find((f) => f.sighting === chosen.id) : null;
  const lit = pointOf(report, finding);
  const litHeight = chosen && isEdge(chosen) ? middleOf(chosen.p, chosen.q)[1] : (finding?.centre_px?.[1] ?? null);
  const judgingRim = "thing" in task && task.kind !== "arc" && task.thing === "rim";
  const onView = useCallback((view: View, size: Size) => setPlace({ view, size }), []);
  const looking = { mayLook, found, look, lookUnasked, setLookUnasked, offer };
  const judging = { judgeFirst, setJudgeFirst, settled, resting, unjudged, levelJudging, judgingRim, levelIsSet };
  const picked = { chosen, chosenRim, selected, unit, fan, finding, lit, litHeight };
  const switches = { rimsShown, turnRims, truthShown, turnTruth, place, onView };
  const probing = { shownProbe, probeSaid, onProbe, onHover };
  return {
    open,
    sheet,
    report,
    picture,
    sighting,
    measuring,
    ...looking,
    ...judging,
    ...picked,
    ...switches,
    ...probing,
    ...shownOf,
  };
}
export type OpenSighting = ReturnType<typeof useSightingScreen>;

/** What of the sheet and its report shows: nothing that gives away what is judged just now. */
function useShown(
  sheet: Sheet,
  report: Report,
  {
    resting,
    unjudged,
    mayLook,
    levelJudging,
  }: { resting: boolean; unjudged: boolean; mayLook: boolean; levelJudging: Extract<Task, { kind: "level" }> | null },
) {
  const [unsureShown, setUnsureShown] = useState(false);
  const shown = useMemo(
    () => (resting || unjudged || levelJudging || !mayLook ? withoutProposals(sheet) : sheet),
    [resting, unjudged, levelJudging, mayLook, sheet],
  );
  const drawnSheet = useMemo(() => {
    const sure = unsureShown ? shown : { ...shown, sightings: sightingsOf(shown).filter((s) => !isLessSure(s)) };
    if (!levelJudging) return sure;
    const { left_y_px, right_y_px } = levelJudging;
    return { ...sure, eye_level: { left_y_px, right_y_px } };
  }, [shown, unsureShown, levelJudging]);
  // while eye level is judged nothing on the screen says where it lies
  const told = useMemo(() => (levelJudging ? withoutLevel(report) : report), [levelJudging, report]);
  return { shown, drawnSheet, told, unsureShown, setUnsureShown };
}

/** Have what was found in the picture laid on the sheet as proposals: one form, or null for all. */
function useOffer(open: OpenSheet, { sheetNow, setSaid }: ReturnType<typeof useSighting>, pictureId: string) {
  return useCallback(
    async (form: string | null) => {
      try {
        const body = { document: sheetNow.current, form };
        const path = { picture_id: pictureId };
        const answer = await call("post", "/api/pictures/{picture_id}/offer", { path, body, again: true });
        if (answer.added > 0) open.change(answer.document);
        setSaid(t("sighting.foundCard.offered", { count: answer.added }));
      } catch (error) {
        setSaid((error as Error).message);
      }
    },
    [open.change, pictureId, setSaid, sheetNow],
  );
}

/** A report that says nothing of eye level. */
function withoutLevel(report: Report): Report {
  const eye_level = { ...report.eye_level, left_y_px: null, right_y_px: null, middle_y_px: null, sd_px: null };
  return { ...report, eye_level: { ...eye_level, found: null }, level_rail: [], vanishing_points: [] };
}
