/** Every action has a key; one list feeds the handler and the `?` sheet. */
export interface KeyLine {
  keys: string;
  does: string;
}

export const KEY_SHEET: { part: string; lines: KeyLine[] }[] = [
  {
    part: "Sighting",
    lines: [
      { keys: "A", does: "Add an edge" },
      { keys: "C", does: "Add a rim" },
      { keys: "P", does: "Add points along the selected rim; Backspace takes one back" },
      { keys: "O", does: "Show all rims that this form should have" },
      { keys: "Enter", does: "Commit the judgement, pick, or drop an end" },
      { keys: "Esc", does: "Leave what was begun; let go of the selection" },
      { keys: "J", does: "Judge first on or off" },
      { keys: "N", does: "New form" },
      { keys: "E", does: "Set eye level, or let the sightings find it" },
      { keys: "Delete", does: "Delete the selected sighting" },
    ],
  },
  {
    part: "Family of the selected edge, or of a rim's axis",
    lines: [
      { keys: "L  R  U", does: "left, right, upright (a level rim)" },
      { keys: "D  X  S", does: "depth, across, slope" },
    ],
  },
  {
    part: "Moving about",
    lines: [
      { keys: "[  ]", does: "Previous or next slip" },
      { keys: "Alt ↑ ↓", does: "Move the slip up or down" },
      {
        keys: "Arrows",
        does: "Nudge the focused point, needle, opening or level; pan the stage",
      },
      { keys: "Shift, Alt", does: "Coarse, fine nudging" },
      { keys: "+  −  0", does: "Zoom in, out, whole picture (on the stage)" },
    ],
  },
  {
    part: "Always",
    lines: [
      { keys: "Ctrl Z, Ctrl Shift Z", does: "Undo, redo" },
      { keys: "?", does: "This sheet of keys" },
    ],
  },
];

/** Whether a key press belongs to a field that somebody types in. */
export function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  return target.matches("input:not([type=checkbox]), textarea, select, [contenteditable=true]");
}
