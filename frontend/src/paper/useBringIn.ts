import { useCallback, useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { call, OF_PHOTOS_MS } from "../api/client";
import type { PaperSize, Picture, Point } from "../api/types";

type Corners = [Point, Point, Point, Point];

/** The size of the paper, proposed once and then as a hand chose it. */
function usePaperSize() {
  const [sizes, setSizes] = useState<PaperSize[]>([]);
  const [size, setSize] = useState("A4");
  const [own, setOwn] = useState<[string, string]>(["297", "210"]);
  const [upright, setUpright] = useState(false);
  /** Whether a hand chose the paper: then no proposal does. */
  const chose = useRef(false);
  const propose = useCallback((known: PaperSize[], paper_mm: readonly number[] | null | undefined, stands: boolean) => {
    setSizes(known);
    setUpright(stands);
    if (!paper_mm || chose.current) return;
    const [short, long] = paper_mm.toSorted((a, b) => a - b);
    setSize(known.find((one) => one.wide_mm === short && one.high_mm === long)?.name ?? "own");
    const [w, h] = stands ? [short, long] : [long, short];
    setOwn([String(w), String(h)]);
  }, []);
  const choose = (name: string) => {
    chose.current = true;
    setSize(name);
  };
  const chosen = sizes.find((one) => one.name === size);
  const paper: [number, number] | null = chosen
    ? upright
      ? [chosen.wide_mm, chosen.high_mm]
      : [chosen.high_mm, chosen.wide_mm]
    : positive(own);
  return { sizes, size, own, setOwn, upright, setUpright, chosen, paper, propose, choose };
}

/** How slanted the photo is by these corners, in words; of several questions the last is answered. */
function useSlant(photo: Picture | null, corners: Corners | null, paper: [number, number] | null): string {
  const [slant, setSlant] = useState("");
  const number = useRef(0);
  const [wide, high] = paper ?? [0, 0];
  useEffect(() => {
    if (!photo || !corners || !wide || !high) {
      setSlant("");
      return;
    }
    number.current += 1;
    const mine = number.current;
    call("post", "/api/paper/slant", { body: { picture_id: photo.id, corners, paper_mm: [wide, high] } })
      .then(({ words }) => mine === number.current && setSlant(words))
      .catch((error: Error) => mine === number.current && setSlant(error.message));
  }, [photo, corners, wide, high]);
  return slant;
}

/** A photo of a drawing on its way in: its corners, its paper, and what flattens it. */
export function useBringIn(subject: string | null, before: string | null) {
  const go = useNavigate();
  const [photo, setPhoto] = useState<Picture | null>(null);
  const [corners, setCorners] = useState<Corners | null>(null);
  const [plain, setPlain] = useState(false);
  const [found, setFound] = useState<"looking" | "sure" | "unsure" | "none">("looking");
  const [fault, setFault] = useState("");
  const [busy, setBusy] = useState(false);
  const sized = usePaperSize();
  const { paper, propose } = sized;
  const slant = useSlant(photo, plain ? null : corners, paper);

  const take = useCallback(
    async (picture: Picture) => {
      setPhoto(picture);
      setFault("");
      setFound("looking");
      setCorners(null);
      try {
        const answer = await call("post", "/api/paper/find", {
          body: { picture_id: picture.id, subject_id: subject, before_id: before },
          patience_ms: OF_PHOTOS_MS,
        });
        setCorners((answer.corners as Corners | null) ?? usual(picture));
        propose(answer.sizes, answer.paper_mm, answer.upright);
        setFound(answer.corners ? (answer.sure ? "sure" : "unsure") : "none");
      } catch (error) {
        setFault((error as Error).message);
        setCorners(usual(picture));
        setFound("none");
      }
    },
    [subject, before, propose],
  );

  const flatten = async () => {
    if (!photo || (!plain && (!corners || !paper))) return;
    setBusy(true);
    setFault("");
    try {
      const how = plain ? {} : { corners, paper_mm: paper };
      const made = await call("post", "/api/drawings", {
        patience_ms: OF_PHOTOS_MS,
        body: { photo_id: photo.id, subject_id: subject, before_id: before, ...how },
      });
      await go(`/paper/${made.sheet_id}`);
    } catch (error) {
      setFault((error as Error).message);
      setBusy(false);
    }
  };
  return {
    ...{ photo, corners, setCorners, plain, setPlain, found, fault, busy },
    ...{ sized, slant, take, flatten },
  };
}

export type BroughtIn = ReturnType<typeof useBringIn>;

/** Where corners begin that were not found. */
function usual({ width_px, height_px }: Picture): Corners {
  return [
    [width_px * 0.15, height_px * 0.15],
    [width_px * 0.85, height_px * 0.15],
    [width_px * 0.85, height_px * 0.85],
    [width_px * 0.15, height_px * 0.85],
  ];
}

function positive([wide, high]: [string, string]): [number, number] | null {
  const [w, h] = [Number(wide.replace(",", ".")), Number(high.replace(",", "."))];
  return w >= 20 && h >= 20 && w <= 5000 && h <= 5000 ? [w, h] : null;
}
