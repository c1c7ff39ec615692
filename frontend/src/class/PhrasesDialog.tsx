import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { call } from "../api/client";
import { phrasesQuery } from "../api/queries";
import { Dialog } from "../ui/Dialog";
import { Fault } from "../ui/Fault";
import { t } from "../words";

/** What a tutor says often, a line each. */
export function PhrasesDialog({ phrases, onClose }: { phrases: string[]; onClose: () => void }) {
  const queries = useQueryClient();
  const [text, setText] = useState(phrases.join("\n"));
  const keep = useMutation({
    mutationFn: () =>
      call("put", "/api/phrases", { body: { phrases: text.split("\n").filter((words) => words.trim() !== "") } }),
    onSuccess: (kept) => {
      queries.setQueryData(phrasesQuery.queryKey, kept);
      onClose();
    },
  });
  return (
    <Dialog
      title={t("class.phrasesDialog.myPhrases")}
      onClose={onClose}
      actions={
        <>
          <button type="button" className="btn btn-sm" onClick={onClose}>
            {t("class.phrasesDialog.leaveIt")}
          </button>
          <button
            type="button"
            className="btn btn-sm btn-primary"
            disabled={keep.isPending}
            onClick={() => keep.mutate()}
          >
            {t("class.phrasesDialog.keep")}
          </button>
        </>
      }
    >
      <label className="flex flex-col gap-1">
        {t("class.phrasesDialog.how")}
        <textarea
          className="textarea w-full"
          rows={10}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      {keep.isError && <Fault words={keep.error.message} />}
    </Dialog>
  );
}
