import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { call } from "../api/client";
import { assignmentsQuery, sheetsQuery, standsQuery } from "../api/queries";
import type { AssignmentIn } from "../api/types";
import { SCHOOLS, type School, schoolWords, useSchools } from "../sheet/schools";
import { Fault } from "../ui/Fault";
import { NumberInput } from "../ui/NumberInput";
import { Tick } from "../ui/Tick";
import { t } from "../words";
import { Field } from "./Field";

const PARTS = ["sightings", "drawing", "critique", "note"] as const;
const SUBJECTS = ["photo", "stand", "own"] as const;
const FOUND = ["never", "after handing in", "as it comes"] as const;
const OWN_TOLERANCES = [
  { key: "tilt_deg", label: t("class.assignmentsScreen.tilts"), unit: "°", most: 45 },
  { key: "length_percent", label: t("class.assignmentsScreen.lengths"), unit: "%", most: 50 },
  { key: "degree_deg", label: t("class.assignmentsScreen.degrees"), unit: "°", most: 45 },
] as const;

/** The draft of an assignment, and what changes it. */
interface Part {
  draft: AssignmentIn;
  put: (changed: Partial<AssignmentIn>) => void;
}

interface AssignmentEditorProps {
  classId: string;
  id: string | null;
  first: AssignmentIn;
  ownSetUp: boolean;
  onDone: () => void;
}

/** One assignment as it is set or changed. */
export function AssignmentEditor({ classId, id, first, ownSetUp, onDone }: AssignmentEditorProps) {
  const queries = useQueryClient();
  const [draft, setDraft] = useState(first);
  const put = (changed: Partial<AssignmentIn>) => setDraft((old) => ({ ...old, ...changed }));
  const done = async () => {
    await queries.invalidateQueries(assignmentsQuery(classId));
    await queries.invalidateQueries({ queryKey: ["board", classId] });
    await queries.invalidateQueries({ queryKey: ["stands"] });
    onDone();
  };
  const keep = useMutation({
    mutationFn: () =>
      id === null
        ? call("post", "/api/classes/{class_id}/assignments", { path: { class_id: classId }, body: draft })
        : call("put", "/api/assignments/{assignment_id}", { path: { assignment_id: id }, body: draft }),
    onSuccess: done,
  });
  const withdraw = useMutation({
    mutationFn: () => call("delete", "/api/assignments/{assignment_id}", { path: { assignment_id: id ?? "" } }),
    onSuccess: done,
  });
  const send = (event: FormEvent) => {
    event.preventDefault();
    keep.mutate();
  };
  const fault = keep.error ?? withdraw.error;
  return (
    <form
      className="flex flex-col gap-3"
      noValidate // what does not fit is told by the server
      onSubmit={send}
      aria-label={id ? t("class.assignmentsScreen.changeTheAssignment") : t("class.assignmentsScreen.setAnAssignment")}
    >
      <Field
        label={t("class.assignmentsScreen.title")}
        value={draft.title}
        onChange={(title) => put({ title })}
        maxLength={200}
        required
      />
      <label className="flex flex-col gap-1 font-semibold">
        {t("class.assignmentsScreen.whatToMind")}
        <textarea
          className="textarea w-full font-normal"
          rows={4}
          maxLength={2000}
          value={draft.words}
          onChange={(event) => put({ words: event.target.value })}
        />
      </label>
      <SubjectPart draft={draft} put={put} ownSetUp={ownSetUp} />
      <HandInPart draft={draft} put={put} />
      <TolerancePart draft={draft} put={put} />
      <EyeFirstPart draft={draft} put={put} />
      <TimePart draft={draft} put={put} />
      <Field
        label={t("class.assignmentsScreen.due")}
        type="datetime-local"
        value={localOf(draft.due_at ?? null)}
        onChange={(value) => put({ due_at: value ? new Date(value).toISOString() : null })}
      />
      {fault && <Fault words={fault.message} />}
      <div className="flex flex-wrap gap-2">
        <button type="submit" className="btn btn-primary" disabled={keep.isPending}>
          {id ? t("class.assignmentsScreen.keepTheChanges") : t("class.assignmentsScreen.setIt")}
        </button>
        <button type="button" className="btn" onClick={onDone}>
          {t("class.assignmentsScreen.leaveIt")}
        </button>
        {id && (
          <button type="button" className="btn" disabled={withdraw.isPending} onClick={() => withdraw.mutate()}>
            {t("class.assignmentsScreen.takeItBack")}
          </button>
        )}
      </div>
      {id && <p className="text-sm">{t("class.assignmentsScreen.takenBackKeeps")}</p>}
    </form>
  );
}

/** What is drawn, and which photo or set-up that is. */
function SubjectPart({ draft, put, ownSetUp }: Part & { ownSetUp: boolean }) {
  const sheets = useQuery(sheetsQuery);
  const stands = useQuery(standsQuery);
  const photos = sheets.data?.sheets.filter((sheet) => sheet.picture) ?? [];
  return (
    <fieldset className="flex flex-col gap-1">
      <legend className="font-semibold">{t("class.assignmentsScreen.subject")}</legend>
      {SUBJECTS.map((subject) => (
        <Tick key={subject} group="subject" checked={draft.subject === subject} onTick={() => put({ subject })}>
          {t(`class.subject.${subject}`)}
        </Tick>
      ))}
      {draft.subject === "photo" && (
        <Choose
          label={t("class.assignmentsScreen.photo")}
          none={t("class.assignmentsScreen.chooseASheet")}
          value={draft.sheet_id}
          options={photos.map((sheet) => ({ id: sheet.id, title: sheet.title }))}
          onChoose={(sheet_id) => put({ sheet_id })}
        />
      )}
      {draft.subject === "stand" && (
        <Choose
          label={t("class.assignmentsScreen.setUp")}
          none={ownSetUp ? t("class.assignmentsScreen.templateSubject") : t("class.assignmentsScreen.chooseSetUp")}
          value={draft.stand_id}
          options={(stands.data?.stands ?? []).map((stand) => ({ id: stand.id, title: stand.title }))}
          onChoose={(stand_id) => put({ stand_id })}
        />
      )}
      {draft.subject === "photo" && photos.length === 0 && (
        <p className="text-sm">{t("class.assignmentsScreen.noSheetWithPhoto")}</p>
      )}
    </fieldset>
  );
}

function HandInPart({ draft, put }: Part) {
  return (
    <fieldset className="flex flex-wrap gap-x-4 gap-y-1">
      <legend className="font-semibold">{t("class.assignmentsScreen.toHandIn")}</legend>
      {PARTS.map((part) => (
        <Tick
          key={part}
          checked={draft.hand_in.includes(part)}
          onTick={(on) =>
            put({
              hand_in: PARTS.filter((one) => (one === part ? on : draft.hand_in.includes(one))),
            })
          }
        >
          {t(`class.handInPart.${part}`)}
        </Tick>
      ))}
    </fieldset>
  );
}

/** A school's tolerances, or the tutor's own, which begin as a freehand's. */
function TolerancePart({ draft, put }: Part) {
  const schools = useSchools();
  const school = typeof draft.tolerance === "string" ? draft.tolerance : "own";
  const own = typeof draft.tolerance === "string" ? schools?.freehand : draft.tolerance;
  return (
    <>
      <label className="flex flex-wrap items-center gap-2 font-semibold">
        {t("class.assignmentsScreen.tolerance")}
        <select
          className="select select-sm w-auto"
          value={school}
          onChange={(event) => put({ tolerance: event.target.value === "own" ? own : (event.target.value as School) })}
        >
          {SCHOOLS.map((one) => (
            <option key={one} value={one}>
              {schoolWords(one, schools)}
            </option>
          ))}
          <option value="own" disabled={!own}>
            {t("class.assignmentsScreen.myOwn")}
          </option>
        </select>
      </label>
      {school === "own" && own && (
        <div className="flex flex-wrap gap-3">
          {OWN_TOLERANCES.map(({ key, label, unit, most }) => (
            <NumberInput
              key={key}
              label={label}
              value={own[key]}
              least={0.1}
              most={most}
              step={0.5}
              unit={unit}
              onValue={(value) => value !== null && put({ tolerance: { ...own, [key]: value } })}
            />
          ))}
        </div>
      )}
    </>
  );
}

/** Whether the eye comes first, and when what is found in the picture may be seen. */
function EyeFirstPart({ draft, put }: Part) {
  return (
    <>
      <Tick checked={draft.judge_first} onTick={(on) => put({ judge_first: on, found: on ? "never" : "as it comes" })}>
        {t("class.assignmentsScreen.judgedFirst")}
      </Tick>
      <label className="flex flex-wrap items-center gap-2 font-semibold">
        {t("class.assignmentsScreen.whatIsFound")}
        <select
          className="select select-sm w-auto"
          value={draft.found}
          onChange={(event) => put({ found: event.target.value as AssignmentIn["found"] })}
        >
          {FOUND.map((when) => (
            <option key={when} value={when}>
              {t(`class.whenFound.${when}`)}
            </option>
          ))}
        </select>
      </label>
    </>
  );
}

function TimePart({ draft, put }: Part) {
  return (
    <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
      <Tick checked={draft.minutes !== null} onTick={(on) => put({ minutes: on ? 40 : null })}>
        {t("class.assignmentsScreen.againstTheClock")}
      </Tick>
      {draft.minutes !== null && (
        <NumberInput
          label={t("class.assignmentsScreen.time")}
          value={draft.minutes ?? 40}
          least={1}
          most={600}
          step={5}
          unit={t("class.assignmentsScreen.min")}
          onValue={(v) => v !== null && put({ minutes: v })}
        />
      )}
      <NumberInput
        label={t("class.assignmentsScreen.tries")}
        value={draft.tries}
        least={1}
        most={20}
        step={1}
        unit=""
        onValue={(v) => v !== null && put({ tries: Math.round(v) })}
      />
    </div>
  );
}

interface ChooseProps {
  label: string;
  none: string;
  value: string | null | undefined;
  options: { id: string; title: string }[];
  onChoose: (id: string | null) => void;
}

function Choose({ label, none, value, options, onChoose }: ChooseProps) {
  return (
    <label className="mt-1 flex flex-wrap items-center gap-2">
      {label}
      <select
        className="select select-sm w-auto max-w-full"
        value={value ?? ""}
        onChange={(event) => onChoose(event.target.value || null)}
      >
        <option value="">{none}</option>
        {options.map((one) => (
          <option key={one.id} value={one.id}>
            {one.title}
          </option>
        ))}
      </select>
    </label>
  );
}

/** A moment as the field writes it: on this machine's clock, to the minute. */
function localOf(at: string | null): string {
  if (!at) return "";
  const moment = new Date(at);
  return new Date(moment.getTime() - moment.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}
