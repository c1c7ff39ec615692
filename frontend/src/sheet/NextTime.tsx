import { dateText } from "../ui/locale";
import { t } from "../words";
import "./sheet.css";
import { useQuery } from "@tanstack/react-query";
import { nextTimeQuery } from "../api/queries";

/** Of which drawing notes are, and when they were made. */
export function notedWords(title: string, at: string | null | undefined): string {
  return at ? t("sheet.nextTime.notedOnDay", { title, day: dateText(at) }) : t("sheet.nextTime.notedOn", { title });
}

/** What the student wrote on the last drawing of such forms, at the top of this one. */
export function NextTime({ sheet }: { sheet: string }) {
  const { data } = useQuery(nextTimeQuery(sheet));
  if (!data || data.notes.length === 0) return null;
  return (
    <aside className="next-time" aria-label={t("sheet.nextTime.noted")}>
      <p className="inline text-sm">{notedWords(data.drawing ?? "", data.noted_at)}</p>
      <ul className="next-notes">
        {data.notes.map((note) => (
          <li key={note}>{note}</li>
        ))}
      </ul>
    </aside>
  );
}
