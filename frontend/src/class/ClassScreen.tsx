import { useQuery } from "@tanstack/react-query";
import { Navigate, useParams } from "react-router";
import { meQuery } from "../api/queries";
import { StartPage } from "./StartPage";

/** A class's first page: the tutor's board, or what is due for a student; of several classes the one that is led, or was made last and is open. */
export function ClassScreen() {
  const { data: me } = useQuery(meQuery);
  const { classId } = useParams();
  const all = me?.classes ?? [];
  const open = all.filter((one) => !one.closed);
  const usual = [...open, ...all].find((one) => one.role === "tutor") ?? open[0] ?? all[0];
  const shown = classId ? all.find((one) => one.id === classId) : usual;
  if (!shown) return <Navigate to="/sheets" replace />;
  if (shown.role === "tutor") return <Navigate to={`/class/${shown.id}/board`} replace />;
  return <StartPage key={shown.id} classId={shown.id} others={all.filter((one) => one.id !== shown.id)} />;
}

/** What opens at the bare address: one's class, and the sheets for whoever is in none that is open. */
export function FirstPage() {
  const { data: me } = useQuery(meQuery);
  return <Navigate to={me?.classes.some((one) => !one.closed) ? "/class" : "/sheets"} replace />;
}
