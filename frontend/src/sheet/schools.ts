/** The tolerances of the schools, as the server has them. */
import { useQuery } from "@tanstack/react-query";
import { easelQuery } from "../api/queries";
import type { Schools } from "../api/types";
import { t } from "../words";

export const SCHOOLS = ["freehand", "ruled"] as const;
export type School = (typeof SCHOOLS)[number];

export function useSchools(): Schools | undefined {
  return useQuery(easelQuery).data?.schools;
}

/** A school with its tolerances, once they are known. */
export function schoolWords(school: School, schools: Schools | undefined): string {
  if (!schools) return t(`sheet.toleranceDialog.${school}`);
  const { tilt_deg: tilt, length_percent: length, degree_deg: degree } = schools[school];
  return t(`sheet.schools.${school}`, { tilt, length, degree });
}
