import type { RefObject } from "react";

interface FileFieldProps {
  field: RefObject<HTMLInputElement | null>;
  label: string;
  accept: string;
  /** The camera of a telephone is opened at once. */
  capture?: "environment";
  onFile: (file: File) => void;
}

/** The field behind a button that opens files: unseen, clicked by it; the same file may be taken twice. */
export function FileField({ field, label, accept, capture, onFile }: FileFieldProps) {
  return (
    <input
      ref={field}
      type="file"
      accept={accept}
      capture={capture}
      className="hidden"
      aria-label={label}
      onChange={(event) => {
        const file = event.target.files?.[0];
        if (file) onFile(file);
        event.target.value = "";
      }}
    />
  );
}
