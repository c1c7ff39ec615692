import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { useLocation } from "react-router";
import { onSignedOut } from "../api/client";
import { meQuery } from "../api/queries";
import { SignIn } from "../class/SignIn";
import { Dialog } from "../ui/Dialog";
import { t } from "../words";

/** What anybody may open who has the address. */
const OPEN = "/join";

/** Lets in who is signed in, or need not be. A sign-in that ended meanwhile is asked for over the work, which stays. */
export function Gate({ children }: { children: ReactNode }) {
  const queries = useQueryClient();
  const { data: me, error, refetch } = useQuery(meQuery);
  const { pathname } = useLocation();
  const inside = useRef<string | null>(null);
  const [out, setOut] = useState(false);
  useEffect(() => onSignedOut(() => setOut(inside.current !== null)), []);
  useEffect(() => {
    if (me?.id) inside.current = me.id;
  }, [me]);
  if (error) return <CannotOpen words={error.message} onAgain={() => void refetch()} />;
  if (!me) return <p className="p-8">{t("app.gate.opening")}</p>;
  if (pathname === OPEN || pathname.startsWith(`${OPEN}/`)) return children;
  if (!me.id && !out)
    return (
      <div className="h-full overflow-y-auto">
        <div className="mx-auto max-w-3xl px-6 py-8">
          <h1 className="mb-5 text-xl font-bold">{t("app.gate.signIn")}</h1>
          <SignIn me={me} onDone={() => queries.removeQueries({ predicate: (query) => query.queryKey[0] !== "me" })} />
        </div>
      </div>
    );
  return (
    <>
      {children}
      {out && (
        <Dialog title={t("app.gate.signedOut")} actions={null}>
          <p className="mb-4 leading-snug">{t("app.gate.signedOutWhy")}</p>
          <SignIn
            me={me}
            again
            onDone={(found) => {
              if (found.id !== inside.current) window.location.assign("/");
              setOut(false);
            }}
          />
        </Dialog>
      )}
    </>
  );
}

function CannotOpen({ words, onAgain }: { words: string; onAgain: () => void }) {
  return (
    <div role="alert" className="alert alert-error m-6">
      <span>{words}</span>
      <button type="button" className="btn btn-sm" onClick={onAgain}>
        {t("app.gate.tryAgain")}
      </button>
    </div>
  );
}
