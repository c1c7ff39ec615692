import { dateText } from "../ui/locale";
import { t } from "../words";
import "./sheet.css";
import { useQuery } from "@tanstack/react-query";
import { nextTimeQuery } from "../api/queries";

/** What the student wrote on the last drawing of such forms, at the top of this one. */
export function NextTime({ sheet }: { sheet: string }) {
  const { data } = useQuery(nextTimeQuery(sheet));
  if (!data || data.notes.length === 0) return null;
  return (
    <aside className="next-time" aria-label={t("sheet.nextTime.noted")}>
      <p className="inline text-sm">
        {data.noted_at
          ? t("sheet.nextTime.notedOnDay", { title: data.drawing ?? "", day: dateText(data.noted_at) })
          : t("sheet.nextTime.notedOn", { title: data.drawing ?? "" })}
      </p>
      <ul className="next-notes">
        {data.notes.map((note) => (
          <li key={note}>{note}</li>
        ))}
      </ul>
    </aside>
  );
}
