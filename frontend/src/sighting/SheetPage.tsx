import { Navigate } from "react-router";
import { SheetLoader } from "../sheet/SheetLoader";
import { SightingScreen } from "./SightingScreen";

/** The subject as it is sighted on its photo; a sheet from life has its card instead. */
export function SheetPage() {
  return (
    <SheetLoader face="subject">
      {(full, tabs) =>
        full.picture ? (
          <SightingScreen full={{ ...full, picture: full.picture }} tabs={tabs} />
        ) : (
          <Navigate to={`/sheets/${full.id}/card`} replace />
        )
      }
    </SheetLoader>
  );
}
