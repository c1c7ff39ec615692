/** How a key reaches its action: every room lists its keys, and the lists feed handler and `?` sheet alike. */
import { useEffect } from "react";
import { useHotkeys, useHotkeysContext } from "react-hotkeys-hook";

export interface KeyLine<Id extends string = string> {
  id: Id;
  /** What is pressed, as `event.key` names it with modifiers before: "ctrl+z", "delete". */
  keys: readonly string[];
  /** How the `?` sheet writes it, and what it does there. Lines that share a text are listed once. */
  shown: string;
  does: string;
}

/** A room's keys; they answer only while their scope is open. */
export interface KeyPart<Id extends string = string> {
  part: string;
  scope: string;
  lines: readonly KeyLine<Id>[];
}

/** Whether a key press belongs to a field that somebody types in, a menu, or a dialog. */
export function isTaken(target: EventTarget | null): boolean {
  if (document.querySelector("dialog[open]")) return true;
  if (!(target instanceof HTMLElement)) return false;
  return (
    target.matches("input:not([type=checkbox]), textarea, select, [contenteditable=true]") ||
    !!target.closest("[role=menu]")
  );
}

/** Act on the part's keys. An action that answers `false` leaves the key to the browser. */
export function useKeys<Id extends string>(
  part: KeyPart<Id>,
  acts: Partial<Record<Id, (event: KeyboardEvent) => unknown>>,
): void {
  const { enableScope, disableScope } = useHotkeysContext();
  useEffect(() => {
    enableScope(part.scope);
    return () => disableScope(part.scope);
  }, [enableScope, disableScope, part.scope]);
  useHotkeys(
    part.lines.flatMap((line) => line.keys),
    (event, { hotkey }) => {
      const line = part.lines.find((one) => one.keys.includes(hotkey));
      if (line && acts[line.id] && acts[line.id]?.(event) !== false) event.preventDefault();
    },
    { scopes: part.scope, useKey: true, enableOnFormTags: true, ignoreEventWhen: (event) => isTaken(event.target) },
  );
}
