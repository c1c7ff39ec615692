import { dateText } from "../ui/locale";
import { t } from "../words";
import "./class.css";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { QrCode } from "lucide-react";
import { type FormEvent, useState } from "react";
import { useParams } from "react-router";
import { call, takeAwayUrl } from "../api/client";
import { classQuery, meQuery } from "../api/queries";
import type { ClassFull, ClassMember } from "../api/types";
import { Dialog } from "../ui/Dialog";
import { Fault } from "../ui/Fault";
import { Menu, MenuAction, MenuDownload } from "../ui/Menu";
import { Tick } from "../ui/Tick";
import { ClassHead } from "./ClassHead";
import { DeleteForGood } from "./DeleteForGood";
import { Field, NewPassphraseField } from "./Field";
import { spaced } from "./words";

type Asked = { kind: "rename" | "passphrase" | "delete"; member: ClassMember } | { kind: "code" } | { kind: "class" };
type Plain = "remove" | "bring-back";

/** Who is in a class, and how others come in. */
export function PeopleScreen() {
  const { classId = "" } = useParams();
  const { data, error } = useQuery(classQuery(classId));
  const queries = useQueryClient();
  const [asked, setAsked] = useState<Asked | null>(null);
  const act = useMutation({
    mutationFn: ({ kind, member }: { kind: Plain; member: ClassMember }) => {
      const path = { class_id: classId, person_id: member.person_id };
      return kind === "remove"
        ? call("post", "/api/classes/{class_id}/members/{person_id}/remove", { path })
        : call("post", "/api/classes/{class_id}/members/{person_id}/bring-back", { path });
    },
    onSuccess: (found) => queries.setQueryData(classQuery(classId).queryKey, found),
  });
  const fault = error ?? act.error;
  const inside = data?.members.filter((one) => !one.removed_at) ?? [];
  const outside = data?.members.filter((one) => one.removed_at) ?? [];
  return (
    <div className="h-full overflow-y-auto">
      <ClassHead classId={classId} />
      <div className="mx-auto grid max-w-5xl gap-8 px-6 py-5 md:grid-cols-[minmax(0,1fr)_19rem]">
        <section aria-labelledby="people-head">
          <h1 id="people-head" className="mb-3 text-xl font-bold">
            {data?.name ?? t("class.peopleScreen.class")}
          </h1>
          {fault && <Fault words={fault.message} />}
          <Lines
            name={t("class.peopleScreen.members")}
            list={inside}
            classId={classId}
            onAsk={setAsked}
            onAct={act.mutate}
          />
          {inside.length === 1 && <p className="mt-3">{t("class.peopleScreen.nobody")}</p>}
          {outside.length > 0 && (
            <>
              <h2 className="part-head mt-6">{t("class.peopleScreen.removedTitle")}</h2>
              <p className="mb-1 text-sm leading-snug">{t("class.peopleScreen.removedWhat")}</p>
              <Lines
                name={t("class.peopleScreen.removed")}
                list={outside}
                classId={classId}
                onAsk={setAsked}
                onAct={act.mutate}
              />
            </>
          )}
        </section>
        {data && (
          <Coming data={data} onShow={() => setAsked({ kind: "code" })} onClass={() => setAsked({ kind: "class" })} />
        )}
      </div>
      {asked?.kind === "code" && data && <CodeOnProjector data={data} onClose={() => setAsked(null)} />}
      {asked?.kind === "class" && data && <ClassDialog data={data} onClose={() => setAsked(null)} />}
      {(asked?.kind === "rename" || asked?.kind === "passphrase") && (
        <MemberDialog kind={asked.kind} classId={classId} member={asked.member} onClose={() => setAsked(null)} />
      )}
      {asked?.kind === "delete" && (
        <DeleteDialog classId={classId} member={asked.member} onClose={() => setAsked(null)} />
      )}
    </div>
  );
}

interface LinesProps {
  name: string;
  list: ClassMember[];
  classId: string;
  onAsk: (asked: Asked) => void;
  onAct: (act: { kind: Plain; member: ClassMember }) => void;
}

function Lines({ name, list, classId, onAsk, onAct }: LinesProps) {
  return (
    <ul className="people" aria-label={name}>
      {list.map((member) => (
        <Line
          key={member.person_id}
          classId={classId}
          member={member}
          onAsk={onAsk}
          onAct={(kind) => onAct({ kind, member })}
        />
      ))}
    </ul>
  );
}

interface LineProps {
  classId: string;
  member: ClassMember;
  onAsk: (asked: Asked) => void;
  onAct: (kind: Plain) => void;
}

function Line({ classId, member, onAsk, onAct }: LineProps) {
  const guest = member.role === "guest";
  return (
    <li>
      <b>{member.name}</b>
      <span className="text-sm">
        {guest ? (member.over ? t("class.peopleScreen.guestOver") : t("class.peopleScreen.guest")) : member.role}
        {", since "}
        {dateText(member.joined_at)}
      </span>
      {member.role !== "tutor" && (
        <Menu name={t("class.peopleScreen.change", { name: member.name })}>
          <MenuAction value="rename" onSelect={() => onAsk({ kind: "rename", member })}>
            {t("class.peopleScreen.rename")}
          </MenuAction>
          <MenuAction value="passphrase" onSelect={() => onAsk({ kind: "passphrase", member })}>
            {guest ? t("class.peopleScreen.makeStudent") : t("class.peopleScreen.setPassphrase")}
          </MenuAction>
          <MenuDownload href={takeAwayUrl(classId, member.person_id)}>{t("class.peopleScreen.export")}</MenuDownload>
          {member.removed_at || member.over ? (
            <MenuAction value="back" onSelect={() => onAct("bring-back")}>
              {t("class.peopleScreen.bringBack")}
            </MenuAction>
          ) : (
            <MenuAction value="remove" onSelect={() => onAct("remove")}>
              {t("class.peopleScreen.remove")}
            </MenuAction>
          )}
          {(member.removed_at || member.over) && (
            <MenuAction value="delete" onSelect={() => onAsk({ kind: "delete", member })}>
              {t("class.peopleScreen.deleteWork")}
            </MenuAction>
          )}
        </Menu>
      )}
    </li>
  );
}

function Coming({ data, onShow, onClass }: { data: ClassFull; onShow: () => void; onClass: () => void }) {
  const queries = useQueryClient();
  const change = useMutation({
    mutationFn: () => call("post", "/api/classes/{class_id}/code", { path: { class_id: data.id } }),
    onSuccess: (found) => queries.setQueryData(classQuery(data.id).queryKey, found),
  });
  return (
    <aside className="flex flex-col gap-3">
      <h2 className="part-head">{t("class.peopleScreen.joining")}</h2>
      {data.closed ? (
        <p className="leading-snug">{t("class.peopleScreen.closedWhy")}</p>
      ) : (
        <>
          <p className="class-code">{spaced(data.code)}</p>
          {!data.reachable && <Unreachable />}
          <button type="button" className="btn btn-primary self-start" onClick={onShow}>
            <QrCode size={18} /> {t("class.peopleScreen.showItLarge")}
          </button>
          <button
            type="button"
            className="btn btn-sm self-start"
            disabled={change.isPending}
            onClick={() => change.mutate()}
          >
            {t("class.peopleScreen.takeAnotherCode")}
          </button>
          <p className="text-sm leading-snug">{t("class.peopleScreen.otherCodeWhy")}</p>
          {change.isError && <Fault words={change.error.message} />}
        </>
      )}
      <button type="button" className="btn btn-sm self-start" onClick={onClass}>
        {data.closed ? t("class.peopleScreen.renameOrOpen") : t("class.peopleScreen.renameOrClose")}
      </button>
    </aside>
  );
}

export function Unreachable() {
  return <p className="text-sm leading-snug">{t("class.peopleScreen.onlyThisMachine")}</p>;
}

function CodeOnProjector({ data, onClose }: { data: ClassFull; onClose: () => void }) {
  return (
    <Dialog title={t("class.peopleScreen.join", { name: data.name })} onClose={onClose}>
      <div className="flex flex-col items-center gap-3 text-center">
        <img src={data.image} alt={t("class.peopleScreen.qrCode")} className="qr" />
        <p className="class-code">{spaced(data.code)}</p>
        <p className="text-lg break-all">{data.link}</p>
        {!data.reachable && <Unreachable />}
      </div>
    </Dialog>
  );
}

function ClassDialog({ data, onClose }: { data: ClassFull; onClose: () => void }) {
  const queries = useQueryClient();
  const [name, setName] = useState(data.name);
  const [closed, setClosed] = useState(data.closed);
  const change = useMutation({
    mutationFn: () => call("put", "/api/classes/{class_id}", { path: { class_id: data.id }, body: { name, closed } }),
    onSuccess: async (found) => {
      queries.setQueryData(classQuery(data.id).queryKey, found);
      await queries.invalidateQueries(meQuery);
      onClose();
    },
  });
  return (
    <Dialog title={t("class.peopleScreen.theClass")} onClose={onClose} actions={null}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate();
        }}
      >
        <Field label={t("class.peopleScreen.name")} value={name} onChange={setName} maxLength={60} required />
        <Tick checked={closed} onTick={setClosed}>
          {t("class.peopleScreen.closed")}
        </Tick>
        <p className="text-sm leading-snug">{t("class.peopleScreen.closedWhat")}</p>
        {change.isError && <Fault words={change.error.message} />}
        <Answer busy={change.isPending} words={t("class.peopleScreen.keep")} onClose={onClose} />
      </form>
    </Dialog>
  );
}

function Answer({ busy, words, onClose }: { busy: boolean; words: string; onClose: () => void }) {
  return (
    <div className="modal-action">
      <button type="button" className="btn btn-sm" onClick={onClose}>
        {t("class.peopleScreen.leaveIt")}
      </button>
      <button type="submit" className="btn btn-sm btn-primary" disabled={busy}>
        {words}
      </button>
    </div>
  );
}

interface MemberDialogProps {
  kind: "rename" | "passphrase";
  classId: string;
  member: ClassMember;
  onClose: () => void;
}

function MemberDialog({ kind, classId, member, onClose }: MemberDialogProps) {
  const queries = useQueryClient();
  const [text, setText] = useState(kind === "rename" ? member.name : "");
  const path = { class_id: classId, person_id: member.person_id };
  const change = useMutation({
    mutationFn: () =>
      kind === "rename"
        ? call("put", "/api/classes/{class_id}/members/{person_id}", { path, body: { name: text } })
        : call("post", "/api/classes/{class_id}/members/{person_id}/passphrase", { path, body: { passphrase: text } }),
    onSuccess: (found) => {
      queries.setQueryData(classQuery(classId).queryKey, found);
      onClose();
    },
  });
  const send = (event: FormEvent) => {
    event.preventDefault();
    change.mutate();
  };
  const { name } = member;
  const title =
    kind === "rename"
      ? t("class.peopleScreen.renamePerson", { name })
      : t("class.peopleScreen.newPassphraseFor", { name });
  return (
    <Dialog title={title} onClose={onClose} actions={null}>
      <form className="flex flex-col gap-3" onSubmit={send}>
        {kind === "rename" ? (
          <Field label={t("class.peopleScreen.name")} value={text} onChange={setText} maxLength={60} required />
        ) : (
          <NewPassphraseField
            shown
            more={t("class.peopleScreen.newPassphraseTell", { name })}
            value={text}
            onChange={setText}
          />
        )}
        {change.isError && <Fault words={change.error.message} />}
        <Answer
          busy={change.isPending}
          words={kind === "rename" ? t("class.peopleScreen.renameCommit") : t("class.peopleScreen.setIt")}
          onClose={onClose}
        />
      </form>
    </Dialog>
  );
}

function DeleteDialog({ classId, member, onClose }: { classId: string; member: ClassMember; onClose: () => void }) {
  const queries = useQueryClient();
  const gone = useMutation({
    mutationFn: () =>
      call("delete", "/api/classes/{class_id}/members/{person_id}", {
        path: { class_id: classId, person_id: member.person_id },
      }),
    onSuccess: async () => {
      await queries.invalidateQueries(classQuery(classId));
      onClose();
    },
  });
  return (
    <DeleteForGood
      title={t("class.peopleScreen.deleteForGood", { name: member.name })}
      busy={gone.isPending}
      onClose={onClose}
      onDelete={() => gone.mutate()}
    >
      <p className="leading-snug">{t("class.peopleScreen.deleteWorkWhat")}</p>
      {gone.isError && <Fault words={gone.error.message} />}
    </DeleteForGood>
  );
}
