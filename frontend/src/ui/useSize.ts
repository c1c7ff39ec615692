import useMeasure from "react-use-measure";

/** An element's size in whole layout pixels, followed as it changes; `first` until it is laid out. */
export function useSize(first: { width: number; height: number }) {
  const [ref, bounds] = useMeasure({ offsetSize: true });
  return { ref, width: bounds.width || first.width, height: bounds.height || first.height };
}
