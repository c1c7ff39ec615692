import type { Report } from "../api/types";

/** In the picture's place on a sheet that was read from life: what its readings say together. */
export function FromLife({ report }: { report: Report }) {
  return (
    <div className="grid h-full place-items-center p-8">
      <div className="max-w-prose">
        <h2 className="mb-2 text-lg font-bold">From life, without a picture</h2>
        <p>
          {report.near_corner?.words ??
            "The readings of this sheet were taken at the easel; nothing is laid on a picture."}
        </p>
      </div>
    </div>
  );
}
