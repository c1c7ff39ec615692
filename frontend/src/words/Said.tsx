import { Fragment, type ReactNode } from "react";
import { type Key, t } from ".";

const MARK = "\u0000"; // in no text

/** A sentence with something in it that is more than text, a bold figure or a link: it stands where the language puts it. */
export function Said({ of, parts }: { of: Key; parts: Record<string, ReactNode> }) {
  const marked = Object.fromEntries(Object.keys(parts).map((name) => [name, `${MARK}${name}${MARK}`]));
  return t(of, marked)
    .split(MARK)
    .map((piece, place) =>
      // biome-ignore lint/suspicious/noArrayIndexKey: pieces of a sentence are told by their order
      place % 2 ? <Fragment key={place}>{parts[piece]}</Fragment> : piece,
    );
}
