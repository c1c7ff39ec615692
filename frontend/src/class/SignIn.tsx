import { t } from "../words";
import "./class.css";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { call } from "../api/client";
import { meQuery } from "../api/queries";
import type { Me } from "../api/types";
import { Fault } from "../ui/Fault";
import { Field } from "./Field";

/** Who one is: a name and a passphrase; for the demo, one click. `again`: over work that waits, which nothing here may leave. */
export function SignIn({ me, again = false, onDone }: { me: Me; again?: boolean; onDone: (me: Me) => void }) {
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const [passphrase, setPassphrase] = useState("");
  const enter = useMutation({
    mutationFn: (click?: string) =>
      click
        ? call("post", "/api/sign-in/one-click", { body: { person_id: click } })
        : call("post", "/api/sign-in", { body: { name, passphrase } }),
    onSuccess: (found) => {
      queries.setQueryData(meQuery.queryKey, found);
      onDone(found);
    },
  });
  const send = (event: FormEvent) => {
    event.preventDefault();
    enter.mutate(undefined);
  };
  if (me.door) return <p className="leading-snug">{me.door}</p>;
  return (
    <div className="door">
      <form className="flex flex-col gap-3" onSubmit={send}>
        <Field label={t("class.signIn.name")} value={name} onChange={setName} autoComplete="username" required />
        <Field
          label={t("class.signIn.passphrase")}
          value={passphrase}
          onChange={setPassphrase}
          type="password"
          autoComplete="current-password"
          required
        />
        <Fault words={enter.error?.message} />
        <button type="submit" className="btn btn-primary self-start" disabled={enter.isPending}>
          {t("class.signIn.signIn")}
        </button>
        {!again && (
          <p className="text-sm">
            {t("class.signIn.newHere")}{" "}
            <Link className="link" to="/join">
              {t("class.signIn.join")}
            </Link>
            {t("class.signIn.forgotten")}
          </p>
        )}
      </form>
      {!again && me.one_click.length > 0 && (
        <section aria-labelledby="demo-people" className="door-demo">
          <h2 id="demo-people" className="font-semibold">
            {t("class.signIn.demoClass")}
          </h2>
          <p className="mb-2 text-sm">{t("class.signIn.demoHint")}</p>
          <ul>
            {me.one_click.map((one) => (
              <li key={one.person_id}>
                <button
                  type="button"
                  className="door-person"
                  disabled={enter.isPending}
                  onClick={() => enter.mutate(one.person_id)}
                >
                  <b>{one.name}</b> <span>{one.role}</span>
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}
