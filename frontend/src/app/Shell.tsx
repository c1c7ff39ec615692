import { Keyboard, Moon, Sun } from "lucide-react";
import { useEffect, useState } from "react";
import { Link, Outlet } from "react-router";
import { KeySheet } from "./KeySheet";
import { isTyping } from "./keys";
import { useTheme } from "./theme";

/** Head of every screen: the way home, a slot for the screen's own tools, theme and keys. */
export function Shell() {
  const [theme, turnTheme] = useTheme();
  const [keys, setKeys] = useState(false);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === "?" && !isTyping(event.target)) setKeys(true);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
  return (
    <div className="flex h-dvh flex-col bg-base-100 text-base-content">
      <header className="flex min-h-12 items-center gap-2 border-b border-base-300 bg-base-200 px-3">
        <Link
          to="/"
          className="flex items-center gap-2 rounded-field text-lg font-bold tracking-tight"
          aria-label="Aspectum: all sheets"
        >
          <Mark />
          <span className="max-[900px]:sr-only">Aspectum</span>
        </Link>
        <div id="screen-tools" className="flex min-w-0 grow items-center gap-2" />
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label="Keys"
          title="Keys (?)"
          onClick={() => setKeys(true)}
        >
          <Keyboard size={18} />
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label={theme === "drawing-room" ? "Evening class (dark)" : "Drawing room (light)"}
          title={theme === "drawing-room" ? "Evening class (dark)" : "Drawing room (light)"}
          onClick={turnTheme}
        >
          {theme === "drawing-room" ? <Moon size={18} /> : <Sun size={18} />}
        </button>
      </header>
      <main className="min-h-0 grow">
        <Outlet />
      </main>
      {keys && <KeySheet onClose={() => setKeys(false)} />}
    </div>
  );
}

function Mark() {
  return (
    <svg viewBox="0 0 32 32" width="26" height="26" aria-hidden="true">
      <path d="M2 12h28" className="mark-level" />
      <path d="M16 6v21M16 6l12 5M16 27l12-12M16 6 4 11M16 27 4 15" className="mark-edges" />
    </svg>
  );
}
