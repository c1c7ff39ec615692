import { t } from "../words";
import "./class.css";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { call } from "../api/client";
import { meQuery } from "../api/queries";
import { Fault } from "../ui/Fault";
import { Tick } from "../ui/Tick";
import { Field, NameField, NewPassphraseField } from "./Field";
import { SignIn } from "./SignIn";

/** Joining a class: its code, then a name and a passphrase, or for one lesson just a name. */
export function JoinScreen() {
  const { code } = useParams();
  return (
    <div className="h-full overflow-y-auto">
      <div className="mx-auto max-w-xl px-6 py-8">
        <h1 className="mb-4 text-xl font-bold">{t("class.joinScreen.joinAClass")}</h1>
        {code ? <Join code={code} /> : <AskCode />}
      </div>
    </div>
  );
}

function AskCode() {
  const [code, setCode] = useState("");
  const go = useNavigate();
  const look = useMutation({
    mutationFn: () => call("get", "/api/join/{code}", { path: { code: code.trim() } }),
    onSuccess: (found) => go(`/join/${found.code}`),
  });
  return (
    <form
      className="flex flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        look.mutate();
      }}
    >
      <Field
        label={t("class.joinScreen.classCode")}
        hint={t("class.joinScreen.codeHint")}
        value={code}
        onChange={setCode}
        autoComplete="off"
        autoCapitalize="characters"
        spellCheck={false}
        required
      />
      {look.isError && <Fault words={look.error.message} />}
      <button type="submit" className="btn btn-primary self-start" disabled={look.isPending}>
        {t("class.joinScreen.goOn")}
      </button>
      <Link className="link text-sm" to="/">
        {t("class.joinScreen.inClassAlready")}
      </Link>
    </form>
  );
}

function Join({ code }: { code: string }) {
  const queries = useQueryClient();
  const go = useNavigate();
  const { data: me } = useQuery(meQuery);
  const [known, setKnown] = useState(false);
  const open = useQuery({
    queryKey: ["join", code],
    queryFn: () => call("get", "/api/join/{code}", { path: { code } }),
    retry: false,
  });
  const [name, setName] = useState("");
  const [passphrase, setPassphrase] = useState("");
  const [guest, setGuest] = useState(false);
  const join = useMutation({
    mutationFn: () => call("post", "/api/join", { body: { code, name, passphrase: guest ? null : passphrase } }),
    onSuccess: async (me) => {
      queries.setQueryData(meQuery.queryKey, me);
      await go("/class");
    },
  });
  if (open.isError)
    return (
      <>
        <Fault words={open.error.message} />
        <Link className="btn mt-3" to="/join">
          {t("class.joinScreen.otherCode")}
        </Link>
      </>
    );
  if (!open.data || !me) return <p>{t("class.joinScreen.looking")}</p>;
  if (me.id && !me.alone) return <JoinAsMyself code={code} called={open.data.name} name={me.name ?? ""} />;
  if (known)
    return (
      <>
        <p className="mb-3 text-lg font-semibold">{open.data.name}</p>
        <SignIn me={me} again onDone={() => setKnown(false)} />
        <button type="button" className="link mt-4 text-sm" onClick={() => setKnown(false)}>
          {t("class.joinScreen.amNew")}
        </button>
      </>
    );
  const send = (event: FormEvent) => {
    event.preventDefault();
    join.mutate();
  };
  return (
    <form className="flex flex-col gap-3" onSubmit={send}>
      <p className="text-lg font-semibold">{open.data.name}</p>
      <NameField
        label={t("class.joinScreen.yourName")}
        hint={t("class.joinScreen.nameHint")}
        value={name}
        onChange={setName}
      />
      <Tick checked={guest} onTick={setGuest}>
        {t("class.joinScreen.asGuest")}
      </Tick>
      {guest ? (
        <p className="text-sm leading-snug">{t("class.joinScreen.asGuestWhy")}</p>
      ) : (
        <NewPassphraseField value={passphrase} onChange={setPassphrase} />
      )}
      {join.isError && <Fault words={join.error.message} />}
      <button type="submit" className="btn btn-primary self-start" disabled={join.isPending}>
        {t("class.joinScreen.join")}
      </button>
      <button type="button" className="link self-start text-sm" onClick={() => setKnown(true)}>
        {t("class.joinScreen.haveName")}
      </button>
    </form>
  );
}

/** Who is signed in joins a further class as who they are. */
function JoinAsMyself({ code, called, name }: { code: string; called: string; name: string }) {
  const queries = useQueryClient();
  const go = useNavigate();
  const join = useMutation({
    mutationFn: () => call("post", "/api/join/{code}", { path: { code } }),
    onSuccess: async (me) => {
      queries.setQueryData(meQuery.queryKey, me);
      const joined = me.classes.find((one) => one.name === called);
      await go(joined ? `/class/${joined.id}` : "/class");
    },
  });
  return (
    <div className="flex flex-col gap-3">
      <p className="text-lg font-semibold">{called}</p>
      <p className="leading-snug">
        {t("class.joinScreen.youAre", { name })} {t("class.joinScreen.joinKeeps")}
      </p>
      {join.isError && <Fault words={join.error.message} />}
      <button
        type="button"
        className="btn btn-primary self-start"
        disabled={join.isPending}
        onClick={() => join.mutate()}
      >
        {t("class.joinScreen.joinAs", { name })}
      </button>
    </div>
  );
}
