import { useMutation, useQuery } from "@tanstack/react-query";
import { Keyboard, Moon, Sun, UserRound } from "lucide-react";
import { useState } from "react";
import { Link, Outlet, useLocation, useNavigate } from "react-router";
import { call } from "../api/client";
import { meQuery } from "../api/queries";
import { Dialog } from "../ui/Dialog";
import { IconButton } from "../ui/IconButton";
import { useKeys } from "../ui/keys";
import { Menu, MenuAction, MenuLink } from "../ui/Menu";
import { useWide } from "../ui/useWide";
import { t } from "../words";
import { Gate } from "./Gate";
import { KeySheet } from "./KeySheet";
import { ALWAYS_KEYS } from "./keymap";
import { CLASS, isHere, PLACES } from "./places";
import { useTheme } from "./theme";

/** How wide the screen must be for the bar to have room for four places, or with a class for five, beside a screen's own tools. */
const FOUR_FROM_PX = 1240;
const FIVE_FROM_PX = 1400;

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
          aria-label={t("app.shell.aspectum")}
        >
          <Mark />
          <span className="max-[1100px]:sr-only">{t("app.shell.aspectum")}</span>
        </Link>
        <Places />
        <div id="screen-tools" className="flex min-w-0 grow items-center gap-2" />
        <IconButton
          icon={Keyboard}
          label={t("app.shell.keys")}
          title={t("app.shell.keysHint")}
          onClick={() => setKeys(true)}
        />
        <IconButton
          icon={theme === "drawing-room" ? Moon : Sun}
          label={theme === "drawing-room" ? t("app.shell.eveningClassDark") : t("app.shell.drawingRoomLight")}
          onClick={turnTheme}
        />
        <You />
      </header>
      <main className="min-h-0 grow">
        <Gate>
          <Outlet />
        </Gate>
      </main>
      {keys && <KeySheet onClose={() => setKeys(false)} />}
    </div>
  );
}

function Places() {
  const { pathname } = useLocation();
  const { data: me } = useQuery(meQuery);
  const wide = useWide(me && me.classes.length > 0 ? FIVE_FROM_PX : FOUR_FROM_PX);
  if (!me?.id) return null;
  const places = me.classes.length > 0 ? [...PLACES, CLASS] : PLACES;
  const here = places.find((place) => isHere(place, pathname));
  // on a narrow screen the room belongs to the work: one name opens the others
  return (
    <nav aria-label={t("app.shell.places")} className="flex">
      {wide ? (
        places.map((place) => (
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
        <Menu name={here?.name ?? t("app.shell.places")}>
          {places.map((place) => (
            <MenuLink key={place.path} to={place.path} here={pathname === place.path}>
              {place.name}
            </MenuLink>
          ))}
        </Menu>
      )}
    </nav>
  );
}

/** Who is signed in, and the way out; alone, the way to a class. */
function You() {
  const { data: me } = useQuery(meQuery);
  const go = useNavigate();
  const leave = useMutation({
    mutationFn: () => call("post", "/api/sign-out"),
    // nothing of one person's may stay on the screen for the next
    onSuccess: () => window.location.assign("/"),
  });
  if (!me?.id) return null;
  if (me.alone) return <IconButton icon={UserRound} label={t("app.shell.youTitle")} onClick={() => void go("/me")} />;
  return (
    <>
      <Menu name={me.name ?? t("app.shell.you")}>
        <MenuLink to="/me" here={false}>
          {t("app.shell.youHint")}
        </MenuLink>
        <MenuAction value="out" onSelect={() => leave.mutate()}>
          {t("app.shell.signOut")}
        </MenuAction>
      </Menu>
      {leave.isError && (
        <Dialog title={t("app.shell.stillSignedIn")} onClose={() => leave.reset()}>
          <p>{t("app.shell.signOutFailed", { message: leave.error.message })}</p>
        </Dialog>
      )}
    </>
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
