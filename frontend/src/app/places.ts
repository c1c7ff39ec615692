/** The places that the bar at the top leads to, in the order of the work. */
import { t } from "../words";

export interface Place {
  path: string;
  name: string;
  /** Further addresses that belong to the place. */
  within: string;
}

export const PLACES: readonly Place[] = [
  { path: "/sheets", name: t("app.places.sheets"), within: "/sheets" },
  { path: "/stand", name: t("app.places.stand"), within: "/stand" },
  { path: "/practice", name: t("app.places.practice"), within: "/practice" },
  { path: "/logbook", name: t("app.places.logbook"), within: "/logbook" },
];

/** For whoever is in a class. */
export const CLASS: Place = { path: "/class", name: t("app.places.class"), within: "/class" };

/** Further pages that belong to a place. */
const BESIDE: Record<string, string> = { "/worksheets": "/sheets" };

export function isHere(place: Place, pathname: string): boolean {
  return pathname === place.path || BESIDE[pathname] === place.path || pathname.startsWith(`${place.within}/`);
}
