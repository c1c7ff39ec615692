import { t } from "../words";
import "../stage/arrangement.css";
import "./stand.css";
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { call, standUrl } from "../api/client";
import { uploadPicture } from "../api/files";
import { newMark } from "../api/mark";
import { sheetsQuery } from "../api/queries";
import type { StandFile, StandFull, StandThing, StandView } from "../api/types";
import { Keeping } from "../sheet/KeepDialogs";
import { KeptTitle, UndoRedo } from "../sheet/SheetHead";
import type { Tabs } from "../sheet/stash";
import type { Size, View } from "../stage/geometry";
import { useKeys } from "../ui/keys";
import { Menu, MenuAction, MenuCheck, MenuDownload, MenuGroup } from "../ui/Menu";
import { ScreenTools } from "../ui/ScreenTools";
import { useStoredSwitch } from "../ui/settings";
import { Elevations } from "./Elevations";
import { EyePanel, type PresetName } from "./EyePanel";
import { EyeRail } from "./EyeRail";
import { nameOf, putThing, removeThing, seenFrom, thingsOf, turnThing, viewOf } from "./edits";
import type { Spot } from "./eye";
import { Footprints } from "./Footprints";
import { KINDS } from "./fields";
import { KeptView } from "./KeptView";
import { STAND_KEYS } from "./keys";
import { pictureOf } from "./picture";
import { StandStage } from "./StandStage";
import { StandTable } from "./StandTable";
import { StepLines, StepWords, useSteps } from "./StepShow";
import type { Shading } from "./shading";
import { ThingCard } from "./ThingCard";
import { TurningDialog } from "./TurningDialog";
import { useCompare } from "./useCompare";
import { useSolids, useStand } from "./useStand";
import { useStep } from "./useStep";

const TURN_DEG = 5;

/** The model stand: a set-up, and the eye that walks round it. */
export function StandScreen({ full, tabs }: { full: StandFull; tabs: Tabs }) {
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
  const [busy, setBusy] = useState(false);
  const compare = useCompare();
  const go = useNavigate();
  const queries = useQueryClient();

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
  const onPreset = (preset: PresetName) =>
    attempt(async () => {
      const next = await call("post", "/api/stand/view", { body: { document: now.current, preset }, again: true });
      onView(next as StandView, true);
    });
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
        const ticket = newMark();
        const kept = await uploadPicture(
          picture,
          `${file.title || "stand"}.png`,
          ticket,
          () => undefined,
          new AbortController().signal,
        );
        const sheet = await call("post", "/api/stands/{stand_id}/sheet", {
          path: { stand_id: full.id },
          body: { picture_id: kept.id },
        });
        await queries.invalidateQueries(sheetsQuery);
        await go(`/sheets/${sheet.id}`);
      } catch (error) {
        redraw();
        throw error;
      } finally {
        setBusy(false);
      }
    });
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
    compare: () => void keepView(),
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
    draw: () => void drawFrom(),
    remove,
    leave: () => (panel ? setPanel(null) : setChosen(null)),
    undo: open.undo,
    redo: open.redo,
  });
  const shownSteps = panel === "steps" ? steps.steps : undefined;
  const stepNumber = Math.min(step, shownSteps?.steps.length ?? 1);
  const beside = compare.kept && compare.beside;
  return (
    <div className="whole-screen easel-grid stand-grid">
      <h1 className="sr-only">{file.title || t("stand.standScreen.setUp")}</h1>
      <ScreenTools>
        <KeptTitle
          label={t("stand.standScreen.title")}
          title={file.title}
          onTitle={(title) => change({ ...file, title })}
          save={open.save}
        />
        <span className="grow" />
        <UndoRedo open={open} />
        <Menu name={t("stand.standScreen.show")}>
          <MenuGroup name={t("stand.standScreen.over")}>
            <MenuCheck value="lines" checked={lines} onChecked={setLines}>
              {t("stand.standScreen.exactLines")}
            </MenuCheck>
            <MenuCheck value="hidden" checked={hidden} onChecked={showHidden}>
              {t("stand.standScreen.hiddenAndFootprints")}
            </MenuCheck>
          </MenuGroup>
          <MenuGroup name={t("stand.standScreen.whatIf")}>
            <MenuCheck value="compare" checked={!!compare.kept} onChecked={() => void keepView()}>
              {t("stand.standScreen.keepView")}
            </MenuCheck>
            <MenuCheck value="beside" checked={compare.beside} onChecked={compare.setBeside}>
              {t("stand.standScreen.compareView")}
            </MenuCheck>
          </MenuGroup>
          <MenuGroup name={t("stand.standScreen.files")}>
            <MenuDownload href={standUrl(full.id, "stand.json")}>{t("stand.standScreen.setUp")}</MenuDownload>
            <MenuDownload href={standUrl(full.id, "drawing.svg")}>
              {t("stand.standScreen.exactDrawingSvg")}
            </MenuDownload>
            <MenuDownload href={standUrl(full.id, "drawing.json")}>
              {t("stand.standScreen.itsNumbersJson")}
            </MenuDownload>
          </MenuGroup>
        </Menu>
        <button
          type="button"
          className="btn btn-sm btn-primary"
          title={t("stand.standScreen.sheetOfView")}
          disabled={busy || open.save.kind !== "saved"}
          onClick={() => void drawFrom()}
        >
          {t("stand.standScreen.drawFromThis")}
        </button>
      </ScreenTools>
      <div className="area-rail">
        <EyeRail
          drawing={drawing}
          view={view}
          pivot={pivot}
          place={place?.view ?? null}
          height={place?.size.height ?? 400}
          onView={onView}
        />
      </div>
      <div className={`area-stage stand-stages ${panel === "elevations" || beside ? "stand-parted" : ""}`}>
        {beside && compare.kept && <KeptView kept={compare.kept} lines={lines} />}
        <StandStage
          file={file}
          solids={solids}
          drawing={drawing}
          moving={open.moving}
          pivot={pivot}
          chosen={chosen}
          lines={lines}
          hidden={hidden}
          ghost={compare.kept && !compare.beside ? compare.kept.drawing : null}
          shading={shading}
          onView={onView}
          onStep={onStep}
          onChoose={setChosen}
          onPlace={onPlace}
          laid={shownSteps && <StepLines steps={shownSteps} number={stepNumber} />}
          below={
            shownSteps && (
              <StepWords
                stand={full.id}
                steps={shownSteps}
                number={stepNumber}
                onNumber={setStep}
                onClose={() => setPanel(null)}
              />
            )
          }
        >
          {solids && !shownSteps && (
            <Footprints file={file} solids={solids} chosen={chosen} onChoose={setChosen} onFile={put} />
          )}
        </StandStage>
        {panel === "elevations" && construct && (
          <Elevations key={construct.id} thing={construct} onThing={onThing} onClose={() => setPanel(null)} />
        )}
      </div>
      <div className="area-slips stand-strip">
        {(fault || steps.fault) && (
          <p role="alert" className="stand-fault">
            {fault || steps.fault}
          </p>
        )}
        <EyePanel
          file={file}
          pivot={pivot}
          before={compare.kept ? viewOf(compare.kept.file) : null}
          same={same}
          onSame={setSame}
          onPreset={(preset) => void onPreset(preset)}
          onStep={onStep}
          onView={(next) => onView(next, true)}
          onFile={change}
        />
        <div className="flex items-center gap-2">
          <h2 className="grow font-bold">{t("stand.standScreen.things")}</h2>
          <Menu name={t("stand.standScreen.addAThing")}>
            {Object.entries(KINDS).map(([kind, words]) => (
              <MenuAction key={kind} value={kind} onSelect={() => void add(kind as StandThing["kind"])}>
                {words}
              </MenuAction>
            ))}
          </Menu>
        </div>
        {thingsOf(file).length === 0 && <p className="text-sm">{t("stand.standScreen.empty")}</p>}
        <ul className="thing-list" aria-label={t("stand.standScreen.things")}>
          {thingsOf(file).map((one) => (
            <li key={one.id}>
              <button
                type="button"
                className={`thing-line ${one.id === chosen ? "thing-chosen" : ""}`}
                aria-pressed={one.id === chosen}
                onClick={() => setChosen(one.id === chosen ? null : one.id)}
              >
                <span className="grow truncate">{nameOf(one)}</span>
                <span className="text-sm">{showsWords(drawing.seen.find((seen) => seen.thing === one.id)?.shows)}</span>
              </button>
              {one.id === chosen && (
                <ThingCard
                  file={file}
                  thing={one}
                  onFile={change}
                  onRemove={remove}
                  onCopy={() => void add(one.kind, one)}
                >
                  {construct && (
                    <div className="flex flex-wrap gap-1.5">
                      <button type="button" className="btn btn-sm" title="E" onClick={() => openPanel("elevations")}>
                        {t("stand.standScreen.planAndElevations")}
                      </button>
                      <button type="button" className="btn btn-sm" title="S" onClick={() => openPanel("steps")}>
                        {t("stand.standScreen.drawnHow")}
                      </button>
                      <button type="button" className="btn btn-sm" title="T" onClick={() => openPanel("turning")}>
                        {t("stand.standScreen.turnInHand")}
                      </button>
                    </div>
                  )}
                </ThingCard>
              )}
            </li>
          ))}
        </ul>
      </div>
      <div className="area-table">
        <StandTable file={file} drawing={drawing} before={compare.kept} chosen={chosen} />
      </div>
      {panel === "turning" && construct && (
        <TurningDialog stand={full.id} file={file} thing={construct} onClose={() => setPanel(null)} />
      )}
      <p className="sr-only" role="status" aria-live="polite">
        {said}
      </p>
      <Keeping
        open={open}
        kind={{ noun: "setUp", address: (id) => `/stand/${id}`, differs: (other) => differing(file, other) }}
      />
    </div>
  );
}

function showsWords(shows: "top" | "underside" | "neither" | undefined): string {
  if (!shows) return "";
  return shows === "neither" ? t("stand.standScreen.edgeOn") : t("stand.standScreen.shows", { shows });
}

function differing(shown: StandFile, other: StandFile): string {
  const ids = new Set([...thingsOf(shown), ...thingsOf(other)].map((thing) => thing.id));
  const of = (file: StandFile, id: string) => JSON.stringify(thingsOf(file).find((thing) => thing.id === id));
  const count = [...ids].filter((id) => of(shown, id) !== of(other, id)).length;
  if (count === 0) return t("stand.standScreen.theViewDiffers");
  return t("stand.standScreen.thingsDiffer", { count });
}
