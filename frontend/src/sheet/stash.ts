import { newMark } from "../api/mark";

/** Work that the server does not have yet, as the browser keeps it: one stash for each tab and
 * document, cleared by that tab's own save only. */
export interface Stash<D> {
  /** The revision that the change was made on. */
  revision: number;
  document: D;
  /** The page's mark of the save that would store it, and of earlier ones that were never answered. */
  save: string;
  unanswered: string[];
  /** None for a sheet from life. */
  picture: string | null;
  at: number;
}

/** A stash that no open tab owns. */
export interface Leftover<D> {
  key: string;
  stash: Stash<D>;
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

function keyOf(id: string, tab: string): string {
  return `${PREFIX}${id}.${tab}`;
}

function read<D>(key: string): Stash<D> | null {
  try {
    const found = JSON.parse(localStorage.getItem(key) ?? "null") as Partial<Stash<D>> | null;
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

export function readStash<D>(id: string, tab: string): Stash<D> | null {
  return read<D>(keyOf(id, tab));
}

export function writeStash<D>(id: string, tab: string, stash: Omit<Stash<D>, "at"> | null): void {
  try {
    if (stash) localStorage.setItem(keyOf(id, tab), JSON.stringify({ ...stash, at: Date.now() }));
    else localStorage.removeItem(keyOf(id, tab));
  } catch {
    // a full or forbidden store only loses the second safety net
  }
}

/** Every stash of the document that belongs to no open tab, the newest first. */
export function leftBehind<D>(id: string, tabs: Tabs): Leftover<D>[] {
  const keys = Object.keys(localStorage).filter((key) => key === PREFIX + id || key.startsWith(`${PREFIX}${id}.`));
  const open = new Set([tabs.own, ...tabs.others].map((tab) => keyOf(id, tab)));
  return keys
    .filter((key) => !open.has(key))
    .flatMap((key) => {
      const stash = read<D>(key);
      return stash ? [{ key, stash }] : [];
    })
    .sort((a, b) => b.stash.at - a.stash.at);
}

export function discard(left: Leftover<unknown>): void {
  localStorage.removeItem(left.key);
}

/** How a stash stands to the document on the server: stored already, its next change, or in conflict. */
export function standing(
  stash: Stash<unknown>,
  full: { revision: number; last_save?: string | null },
): "stored" | "next" | "conflict" {
  if (full.last_save && stash.save === full.last_save) return "stored";
  if (stash.revision === full.revision || (full.last_save && stash.unanswered.includes(full.last_save))) return "next";
  return "conflict";
}
