/** A mark for a save or a tab; `crypto.randomUUID` is missing where the page comes over plain HTTP. */
export function newMark(): string {
  return [...crypto.getRandomValues(new Uint8Array(16))].map((byte) => byte.toString(16).padStart(2, "0")).join("");
}

/** What this page calls itself towards the server: its newer question overtakes an older one that still waits there. */
export const PAGE = newMark();
