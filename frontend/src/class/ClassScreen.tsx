import { useQuery } from "@tanstack/react-query";
import { Navigate } from "react-router";
import { meQuery } from "../api/queries";
import { StartPage } from "./StartPage";

/** The class's first page: the tutor's board, or what is due for a student. */
export function ClassScreen() {
  const { data: me } = useQuery(meQuery);
  const led = me?.classes.find((one) => one.role === "tutor");
  const mine = me?.classes[0];
  if (led) return <Navigate to={`/class/${led.id}/board`} replace />;
  return mine ? <StartPage key={mine.id} classId={mine.id} /> : <Navigate to="/" replace />;
}
