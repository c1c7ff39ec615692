import { useQuery } from "@tanstack/react-query";
import { Navigate } from "react-router";
import { meQuery } from "../api/queries";

/** The class's first page: the tutor's board, or what is due for a student. */
export function ClassScreen() {
  const { data: me } = useQuery(meQuery);
  const led = me?.classes.find((one) => one.role === "tutor");
  if (led) return <Navigate to={`/class/${led.id}/people`} replace />;
  return <Navigate to="/" replace />;
}
