import { Link, useRouteError } from "react-router";
import { t } from "../words";

/** An address that leads nowhere. */
export function NotFound() {
  return (
    <Astray title={t("app.astray.nothingHere")}>
      <p>{t("app.astray.nothingHereWhy")}</p>
    </Astray>
  );
}

/** A screen that broke. Work on a sheet is saved as it changes, and what could not be sent is kept in the browser. */
export function Broken() {
  const error = useRouteError();
  return (
    <Astray title={t("app.astray.failed")}>
      <p className="mb-2">{t("app.astray.failedWorkIsKept")}</p>
      <p className="text-sm">{error instanceof Error ? error.message : String(error)}</p>
    </Astray>
  );
}

function Astray({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <div role="alert" className="mx-auto max-w-xl p-8">
      <h1 className="mb-3 text-xl font-bold">{title}</h1>
      {children}
      <div className="mt-4 flex gap-2">
        <Link to="/" className="btn btn-sm btn-primary">
          {t("app.astray.allSheets")}
        </Link>
        <button type="button" className="btn btn-sm" onClick={() => window.location.reload()}>
          {t("app.astray.loadAgain")}
        </button>
      </div>
    </div>
  );
}
