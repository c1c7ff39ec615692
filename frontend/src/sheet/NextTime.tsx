import "./sheet.css";
import { useQuery } from "@tanstack/react-query";
import { nextTimeQuery } from "../api/queries";

/** What the student wrote on the last drawing of such forms, at the top of this one. */
export function NextTime({ sheet }: { sheet: string }) {
  const { data } = useQuery(nextTimeQuery(sheet));
  if (!data || data.notes.length === 0) return null;
  return (
    <aside className="next-time" aria-label="Noted for this time">
      <p className="inline text-sm">
        Noted on “{data.drawing}”{data.noted_at && `, ${new Date(data.noted_at).toLocaleDateString()}`}:
      </p>
      <ul className="next-notes">
        {data.notes.map((note) => (
          <li key={note}>{note}</li>
        ))}
      </ul>
    </aside>
  );
}
