import { Keyboard, Moon, Sun } from "lucide-react";
import { useState } from "react";
import { Link, Outlet, useLocation } from "react-router";
import { IconButton } from "../ui/IconButton";
import { useKeys } from "../ui/keys";
import { Menu, MenuLink } from "../ui/Menu";
import { useWide } from "../ui/useWide";
import { KeySheet } from "./KeySheet";
import { ALWAYS_KEYS } from "./keymap";
import { isHere, PLACES } from "./places";
import { useTheme } from "./theme";

/** Head of every screen: the places, a slot for the screen's own tools, theme and keys. */
export function Shell() {
  const [theme, turnTheme] = useTheme();
  const [keys, setKeys] = useState(false);
  useKeys(ALWAYS_KEYS, { keys: () => setKeys(true) });
  return (
    <div className="flex h-dvh flex-col bg-base-100 text-base-content">
      <header className="flex min-h-12 items-center gap-2 border-b border-base-300 bg-base-200 px-3">
        <Link
          to="/"
          className="flex items-center gap-2 rounded-field text-lg font-bold tracking-tight"
          aria-label="Aspectum"
        >
          <Mark />
          <span className="max-[1100px]:sr-only">Aspectum</span>
        </Link>
        <Places />
        <div id="screen-tools" className="flex min-w-0 grow items-center gap-2" />
        <IconButton icon={Keyboard} label="Keys" title="Keys (?)" onClick={() => setKeys(true)} />
        <IconButton
          icon={theme === "drawing-room" ? Moon : Sun}
          label={theme === "drawing-room" ? "Evening class (dark)" : "Drawing room (light)"}
          onClick={turnTheme}
        />
      </header>
      <main className="min-h-0 grow">
        <Outlet />
      </main>
      {keys && <KeySheet onClose={() => setKeys(false)} />}
    </div>
  );
}

function Places() {
  const { pathname } = useLocation();
  const wide = useWide();
  const here = PLACES.find((place) => isHere(place, pathname));
  // on a narrow screen the room belongs to the work: one name opens the others
  return (
    <nav aria-label="Places" className="flex">
      {wide ? (
        PLACES.map((place) => (
          <Link
            key={place.path}
            to={place.path}
            aria-current={pathname === place.path ? "page" : place === here ? "true" : undefined}
            className="place"
          >
            {place.name}
          </Link>
        ))
      ) : (
        <Menu name={here?.name ?? "Places"}>
          {PLACES.map((place) => (
            <MenuLink key={place.path} to={place.path} here={pathname === place.path}>
              {place.name}
            </MenuLink>
          ))}
        </Menu>
      )}
    </nav>
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
