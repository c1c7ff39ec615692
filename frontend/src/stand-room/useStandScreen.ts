import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { call } from "../api/client";
import { uploadPicture } from "../api/files";
import { newMark } from "../api/mark";
import { sheetsQuery } from "../api/queries";
import type { StandFile, StandFull, StandThing, StandView } from "../api/types";
import type { Tabs } from "../sheet/stash";
import type { Size, View } from "../stage/geometry";
import { useKeys } from "../ui/keys";
import { useStoredSwitch } from "../ui/settings";
import { t } from "../words";
import type { PresetName } from "./EyePanel";
import { nameOf, putThing, removeThing, seenFrom, thingsOf, turnThing, viewOf } from "./edits";
import type { Spot } from "./eye";
import { STAND_KEYS } from "./keys";
import { pictureOf } from "./picture";
import { useSteps } from "./StepShow";
import type { Shading } from "./shading";
import { useCompare } from "./useCompare";
import { useSolids, useStand } from "./useStand";
import { useStep } from "./useStep";

const TURN_DEG = 5;

/** A set-up that is open, what is chosen and shown of it, and what can be done with it. */
export function useStandScreen(full: StandFull, tabs: Tabs) {
  const stand = useStandState(full, tabs);
  const things = useThings(stand);
  const views = useViews(full, stand);
  const { open, file, thing, construct, lines, setLines, hidden, setHidden, same, setSame, onStep, compare } = stand;
  const { panel, setPanel, step, setStep, steps, setSaid, setChosen, change } = stand;
  const openPanel = (next: typeof panel) => {
    if (!construct) {
      setSaid(t("stand.standScreen.chooseFirst"));
      return;
    }
    setStep(1);
    setPanel((old) => (old === next ? null : next));
  };
  const showHidden = (on: boolean) => {
    setHidden(on);
    // hidden lines go with the others
    if (on) setLines(true);
  };
  useKeys(STAND_KEYS, {
    lines: () => setLines(!lines),
    hidden: () => showHidden(!hidden),
    compare: () => void views.keepView(),
    beside: () => compare.setBeside(!compare.beside),
    same: () => setSame(!same),
    nearer: () => onStep(0.9),
    back: () => onStep(1 / 0.9),
    turnLeft: () => thing && change(turnThing(file, thing.id, TURN_DEG)),
    turnRight: () => thing && change(turnThing(file, thing.id, -TURN_DEG)),
    elevations: () => openPanel("elevations"),
    steps: () => openPanel("steps"),
    previous: () => panel === "steps" && setStep(Math.max(1, step - 1)),
    next: () => panel === "steps" && setStep(Math.min(steps.steps?.steps.length ?? 1, step + 1)),
    turning: () => openPanel("turning"),
    draw: () => void views.drawFrom(),
    remove: things.remove,
    leave: () => (panel ? setPanel(null) : setChosen(null)),
    undo: open.undo,
    redo: open.redo,
  });
  const shownSteps = panel === "steps" ? steps.steps : undefined;
  const stepNumber = Math.min(step, shownSteps?.steps.length ?? 1);
  return { ...stand, ...things, ...views, openPanel, showHidden, shownSteps, stepNumber };
}
export type OpenStand = ReturnType<typeof useStandScreen>;
type StandState = ReturnType<typeof useStandState>;

/** The set-up, what is chosen on it, what is shown over it, and how it is changed. */
function useStandState(full: StandFull, tabs: Tabs) {
  const open = useStand(full, tabs);
  const { document: file, answer: drawing, change, show } = open;
  const view = viewOf(file);
  const now = useRef(file);
  now.current = file;
  const solids = useSolids(file.things);
  const shading = useRef<Shading | null>(null);
  const [place, setPlace] = useState<{ view: View; size: Size } | null>(null);
  const [picked, setChosen] = useState<string | null>(null);
  const [lines, setLines] = useStoredSwitch("stand-lines", false);
  const [hidden, setHidden] = useStoredSwitch("stand-hidden", false);
  const [same, setSame] = useState(false);
  const [panel, setPanel] = useState<"elevations" | "steps" | "turning" | null>(null);
  const [step, setStep] = useState(1);
  const [said, setSaid] = useState("");
  const [fault, setFault] = useState("");
  const compare = useCompare();

  const thing = thingsOf(file).find((one) => one.id === picked) ?? null;
  const chosen = thing?.id ?? null;
  const construct = thing && thing.kind !== "section" ? thing : null;
  const pivot = useMemo(
    (): Spot => (solids ? (solids.low_m.map((low, n) => (low + (solids.high_m[n] ?? 0)) / 2) as Spot) : [0, 0, 0]),
    [solids],
  );
  const steps = useSteps(file, panel === "steps" && construct ? construct.id : null);
  const onPlace = useCallback((next: View, size: Size) => setPlace({ view: next, size }), []);
  const put = useCallback((next: StandFile, done: boolean) => (done ? change : show)(next), [change, show]);
  const onView = useCallback((next: StandView, done: boolean) => put(seenFrom(now.current, next), done), [put]);
  const onThing = useCallback((next: StandThing, done: boolean) => put(putThing(now.current, next), done), [put]);
  const onStep = useStep(now, same, chosen, show, change, setFault);
  const attempt = async (act: () => Promise<void>) => {
    setFault("");
    try {
      await act();
    } catch (error) {
      setFault((error as Error).message);
    }
  };
  const shownOf = { lines, setLines, hidden, setHidden, same, setSame, panel, setPanel, step, setStep, steps, compare };
  const moved = { onPlace, put, onView, onThing, onStep, attempt };
  const told = { said, setSaid, fault };
  const picking = { thing, chosen, setChosen, construct };
  return {
    open,
    file,
    drawing,
    change,
    view,
    now,
    solids,
    shading,
    place,
    pivot,
    ...picking,
    ...shownOf,
    ...moved,
    ...told,
  };
}

/** Things put on the stand and taken off it. */
function useThings({ file, now, thing, construct, change, setChosen, setSaid, attempt }: StandState) {
  const add = (kind: StandThing["kind"], like?: StandThing) =>
    attempt(async () => {
      const body = {
        document: now.current,
        kind,
        of: kind === "section" ? (construct ?? thingsOf(file)[0])?.id : null,
      };
      const made = (await call("post", "/api/stand/thing", { body, again: true })).thing as StandThing;
      const next = like
        ? ({
            ...like,
            id: made.id,
            name: t("stand.standScreen.again", { name: nameOf(like) }),
            at_m: made.at_m,
            on: null,
          } as StandThing)
        : made;
      change(putThing(now.current, next));
      setChosen(next.id);
      setSaid(t("stand.standScreen.putOn", { name: nameOf(next) }));
    });
  const remove = () => {
    if (!thing) return false;
    change(removeThing(now.current, thing.id));
    setChosen(null);
    setSaid(t("stand.standScreen.takenOff", { name: nameOf(thing) }));
    return true;
  };
  return { add, remove };
}

/** Views taken up, kept to compare, and drawn from. */
function useViews(full: StandFull, stand: StandState) {
  const { file, drawing, view, now, place, shading, compare, setSaid, attempt, onView } = stand;
  const [busy, setBusy] = useState(false);
  const go = useNavigate();
  const queries = useQueryClient();
  const onPreset = (preset: PresetName) =>
    attempt(async () => {
      const next = await call("post", "/api/stand/view", { body: { document: now.current, preset }, again: true });
      onView(next as StandView, true);
    });
  /** A picture was drawn at another size: the stage is drawn anew. */
  const redraw = () => {
    const at = place?.view;
    if (at) shading.current?.draw(now.current, viewOf(now.current), view.width_px * at.k, view.height_px * at.k, true);
  };
  const keepView = async () => {
    if (compare.kept) {
      compare.letGo();
      return;
    }
    const shot = shading.current ? URL.createObjectURL(await pictureOf(shading.current, file, drawing)) : null;
    compare.keep({ file, drawing, picture: shot });
    redraw();
    setSaid(t("stand.standScreen.viewKept"));
  };
  const drawFrom = () =>
    attempt(async () => {
      if (busy) return;
      setBusy(true);
      try {
        const picture = await pictureOf(shading.current, file, drawing);
        const sheet = await sheetOf(full.id, picture, `${file.title || "stand"}.png`);
        await queries.invalidateQueries(sheetsQuery);
        await go(`/sheets/${sheet.id}`);
      } catch (error) {
        redraw();
        throw error;
      } finally {
        setBusy(false);
      }
    });
  return { onPreset, keepView, drawFrom, busy };
}

/** A sheet of what a set-up shows now. */
async function sheetOf(stand_id: string, picture: Blob, name: string) {
  const kept = await uploadPicture(picture, name, newMark(), () => undefined, new AbortController().signal);
  return await call("post", "/api/stands/{stand_id}/sheet", { path: { stand_id }, body: { picture_id: kept.id } });
}
