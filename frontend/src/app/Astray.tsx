import { Link, useRouteError } from "react-router";

/** An address that leads nowhere. */
export function NotFound() {
  return (
    <Astray title="There is nothing at this address">
      <p>
        The link may be old, or the sheet may have been deleted. Everything that is kept here is listed under Sheets.
      </p>
    </Astray>
  );
}

/** A screen that broke. Work on a sheet is saved as it changes, and what could not be sent is kept in the browser. */
export function Broken() {
  const error = useRouteError();
  return (
    <Astray title="This screen met an error">
      <p className="mb-2">
        Your work is kept: it is saved as it changes, and what could not be sent yet lies in this browser. Loading the
        page again usually helps.
      </p>
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
          All sheets
        </Link>
        <button type="button" className="btn btn-sm" onClick={() => window.location.reload()}>
          Load again
        </button>
      </div>
    </div>
  );
}
