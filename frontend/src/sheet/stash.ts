import { newMark } from "../api/mark";
import type { Sheet } from "../api/types";

/** Work that the server does not have yet, as the browser keeps it: one stash for each tab and
 * sheet, cleared by that tab's own save only. */
export interface Stash {
  /** The revision that the change was made on. */
  revision: number;
  document: Sheet;
  /** The page's mark of the save that would store it, and of earlier ones that were never answered. */
  save: string;
  unanswered: string[];
  /** None for a sheet from life. */
  picture: string | null;
  at: number;
}

/** A stash that no open tab owns. */
export interface Left {
  key: string;
  stash: Stash;
}

/** This tab's name, and the names of the other tabs that are open now. */
export interface Tabs {
  own: string;
  others: ReadonlySet<string>;
}

const PREFIX = "aspectum.unsaved.";
const TAB = "aspectum.tab";
/** How long other tabs have to answer; a tab asleep in the background may miss it, and its work is
 * then offered here as well, which costs nothing: a save sent twice is stored once. */
const LISTEN_MS = 200;

type Call = { ask: true } | { here: string };

let own = "";
let heard = new Set<string>();
let channel: BroadcastChannel | null = null;

function openChannel(): BroadcastChannel {
  const opened = new BroadcastChannel("aspectum.tabs");
  opened.onmessage = (event: MessageEvent<Call>) => {
    if ("here" in event.data) heard.add(event.data.here);
    else opened.postMessage({ here: own } satisfies Call);
  };
  return opened;
}

/** Ask which tabs are open. The tab's name outlives a reload; a duplicated tab takes a new one. */
export async function rollCall(): Promise<Tabs> {
  const first = !channel;
  if (first) own = sessionStorage.getItem(TAB) ?? newMark();
  channel ??= openChannel();
  heard = new Set();
  channel.postMessage({ ask: true } satisfies Call);
  await new Promise((resolve) => setTimeout(resolve, LISTEN_MS));
  if (first && heard.has(own)) own = newMark();
  sessionStorage.setItem(TAB, own);
  return { own, others: heard };
}

function keyOf(sheet: string, tab: string): string {
  return `${PREFIX}${sheet}.${tab}`;
}

function read(key: string): Stash | null {
  try {
    const found = JSON.parse(localStorage.getItem(key) ?? "null") as Partial<Stash> | null;
    if (!found?.document || typeof found.revision !== "number") return null;
    // what an earlier version left behind has no marks
    return {
      save: newMark(),
      unanswered: [],
      picture: null,
      at: 0,
      ...found,
      revision: found.revision,
      document: found.document,
    };
  } catch {
    return null;
  }
}

export function readStash(sheet: string, tab: string): Stash | null {
  return read(keyOf(sheet, tab));
}

export function writeStash(sheet: string, tab: string, stash: Omit<Stash, "at"> | null): void {
  try {
    if (stash) localStorage.setItem(keyOf(sheet, tab), JSON.stringify({ ...stash, at: Date.now() }));
    else localStorage.removeItem(keyOf(sheet, tab));
  } catch {
    // a full or forbidden store only loses the second safety net
  }
}

/** Every stash of the sheet that belongs to no open tab, the newest first. */
export function leftBehind(sheet: string, tabs: Tabs): Left[] {
  const keys = Object.keys(localStorage).filter(
    (key) => key === PREFIX + sheet || key.startsWith(`${PREFIX}${sheet}.`),
  );
  const open = new Set([tabs.own, ...tabs.others].map((tab) => keyOf(sheet, tab)));
  return keys
    .filter((key) => !open.has(key))
    .flatMap((key) => {
      const stash = read(key);
      return stash ? [{ key, stash }] : [];
    })
    .sort((a, b) => b.stash.at - a.stash.at);
}

export function discard(left: Left): void {
  localStorage.removeItem(left.key);
}

/** How a stash stands to the sheet on the server: stored already, its next change, or in conflict. */
export function standing(
  stash: Stash,
  full: { revision: number; last_save?: string | null },
): "stored" | "next" | "conflict" {
  if (full.last_save && stash.save === full.last_save) return "stored";
  if (stash.revision === full.revision || (full.last_save && stash.unanswered.includes(full.last_save))) return "next";
  return "conflict";
}
