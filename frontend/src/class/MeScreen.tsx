import { t } from "../words";
import "./class.css";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useState } from "react";
import { useNavigate } from "react-router";
import { call } from "../api/client";
import { meQuery } from "../api/queries";
import type { Me } from "../api/types";
import { Fault } from "../ui/Fault";
import { DeleteForGood } from "./DeleteForGood";
import { Field, NameField, NewPassphraseField } from "./Field";

/** One's own name and passphrase, everything to take away, and the way out; alone, the way to a class. */
export function MeScreen() {
  const { data: me } = useQuery(meQuery);
  if (!me) return null;
  const tutor = me.classes.some((one) => one.role === "tutor");
  return (
    <div className="h-full overflow-y-auto">
      <div className="mx-auto flex max-w-2xl flex-col gap-8 px-6 py-6">
        <h1 className="text-xl font-bold">{me.alone ? t("class.meScreen.atThisEasel") : me.name}</h1>
        {me.alone && <NewClass me={me} />}
        {!me.alone && <Name me={me} />}
        {!me.alone && <NewPassphrase me={me} />}
        {tutor && <NewClass me={me} />}
        <Part id="away" title={t("class.meScreen.everythingOfYours")}>
          <p className="mb-2 leading-snug">{t("class.meScreen.exportWhat")}</p>
          <a className="btn btn-sm" href="/api/me/everything.zip" download>
            {t("class.meScreen.export")}
          </a>
        </Part>
        <Delete me={me} />
      </div>
    </div>
  );
}

function NewClass({ me }: { me: Me }) {
  const queries = useQueryClient();
  const go = useNavigate();
  const [name, setName] = useState("");
  const [tutor, setTutor] = useState("");
  const [passphrase, setPassphrase] = useState("");
  const make = useMutation({
    mutationFn: () =>
      call("post", "/api/classes", {
        body: { name, tutor: me.alone ? tutor : null, passphrase: me.alone ? passphrase : null },
      }),
    onSuccess: async (found) => {
      queries.setQueryData(meQuery.queryKey, found);
      await go(`/class/${found.classes[0]?.id}/people`);
    },
  });
  const send = (event: FormEvent) => {
    event.preventDefault();
    make.mutate();
  };
  return (
    <Part id="class" title={me.alone ? t("class.meScreen.makeAClass") : t("class.meScreen.anotherClass")}>
      {me.alone && <p className="mb-3 leading-snug">{t("class.meScreen.aloneNoClass")}</p>}
      <form className="flex flex-col gap-3" onSubmit={send}>
        <Field label={t("class.meScreen.className")} value={name} onChange={setName} maxLength={60} required />
        {me.alone && <OwnEntry name={tutor} onName={setTutor} passphrase={passphrase} onPassphrase={setPassphrase} />}
        {make.isError && <Fault words={make.error.message} />}
        <button type="submit" className="btn btn-primary self-start" disabled={make.isPending}>
          {t("class.meScreen.makeTheClass")}
        </button>
      </form>
    </Part>
  );
}

function Name({ me }: { me: Me }) {
  const queries = useQueryClient();
  const [name, setName] = useState(me.name ?? "");
  const rename = useMutation({
    mutationFn: () => call("put", "/api/me", { body: { name } }),
    onSuccess: (found) => queries.setQueryData(meQuery.queryKey, found),
  });
  return (
    <Part id="name" title={t("class.meScreen.name")}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          rename.mutate();
        }}
      >
        <NameField
          label={t("class.meScreen.nameWhat")}
          hint={t("class.meScreen.nameSignsIn")}
          value={name}
          onChange={setName}
        />
        {rename.isError && <Fault words={rename.error.message} />}
        {rename.isSuccess && <p role="status">{t("class.meScreen.kept")}</p>}
        <button type="submit" className="btn btn-sm self-start" disabled={rename.isPending || name === me.name}>
          {t("class.meScreen.changeTheName")}
        </button>
      </form>
    </Part>
  );
}

function NewPassphrase({ me }: { me: Me }) {
  const queries = useQueryClient();
  const [now, setNow] = useState("");
  const [then, setThen] = useState("");
  const change = useMutation({
    mutationFn: () => call("post", "/api/me/passphrase", { body: { now: me.passphrase ? now : null, then } }),
    onSuccess: (found) => {
      queries.setQueryData(meQuery.queryKey, found);
      setNow("");
      setThen("");
    },
  });
  return (
    <Part id="passphrase" title={me.guest ? t("class.meScreen.stayTitle") : t("class.meScreen.passphrase")}>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate();
        }}
      >
        {me.guest && <p className="leading-snug">{t("class.meScreen.stayWhy")}</p>}
        {me.passphrase && (
          <Field
            label={t("class.meScreen.soFar")}
            value={now}
            onChange={setNow}
            type="password"
            autoComplete="current-password"
            required
          />
        )}
        <NewPassphraseField label={t("class.meScreen.fromNowOn")} value={then} onChange={setThen} />
        {change.isError && <Fault words={change.error.message} />}
        {change.isSuccess && <p role="status">{t("class.meScreen.passphraseChanged")}</p>}
        <button type="submit" className="btn btn-sm self-start" disabled={change.isPending}>
          {me.guest ? t("class.meScreen.stay") : t("class.meScreen.changeThePassphrase")}
        </button>
      </form>
    </Part>
  );
}

function Delete({ me }: { me: Me }) {
  const queries = useQueryClient();
  const [asked, setAsked] = useState(false);
  const [passphrase, setPassphrase] = useState("");
  const gone = useMutation({
    mutationFn: () => call("post", "/api/me/delete", { body: { passphrase: passphrase || null } }),
    onSuccess: (found) => {
      queries.clear();
      queries.setQueryData(meQuery.queryKey, found);
      window.location.assign("/");
    },
  });
  return (
    <Part id="delete" title={t("class.meScreen.deleteEverything")}>
      <p className="mb-2 leading-snug">
        {me.alone ? t("class.meScreen.deleteAlone") : t("class.meScreen.deleteInClass")}
      </p>
      <button type="button" className="btn btn-sm btn-error" onClick={() => setAsked(true)}>
        {t("class.meScreen.deleteAsk")}
      </button>
      {asked && (
        <DeleteForGood
          title={t("class.meScreen.deleteConfirm")}
          busy={gone.isPending}
          onClose={() => setAsked(false)}
          onDelete={() => gone.mutate()}
        >
          <p className="mb-3 leading-snug">{t("class.meScreen.deleteIsFinal")}</p>
          {me.passphrase && (
            <Field
              label={t("class.meScreen.yourPassphrase")}
              value={passphrase}
              onChange={setPassphrase}
              type="password"
              autoComplete="current-password"
            />
          )}
          {gone.isError && <Fault words={gone.error.message} />}
        </DeleteForGood>
      )}
    </Part>
  );
}

function Part({ id, title, children }: { id: string; title: string; children: ReactNode }) {
  return (
    <section aria-labelledby={`${id}-head`}>
      <h2 id={`${id}-head`} className="part-head">
        {title}
      </h2>
      {children}
    </section>
  );
}

interface OwnEntryProps {
  name: string;
  onName: (name: string) => void;
  passphrase: string;
  onPassphrase: (passphrase: string) => void;
}

/** How the first tutor of a class will sign in. */
function OwnEntry({ name, onName, passphrase, onPassphrase }: OwnEntryProps) {
  return (
    <>
      <NameField label={t("class.meScreen.yourName")} value={name} onChange={onName} />
      <NewPassphraseField
        label={t("class.meScreen.yourPassphrase")}
        more={t("class.meScreen.writeItDown")}
        value={passphrase}
        onChange={onPassphrase}
      />
    </>
  );
}
