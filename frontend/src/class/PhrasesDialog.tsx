import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { call } from "../api/client";
import { phrasesQuery } from "../api/queries";
import { Dialog } from "../ui/Dialog";
import { Fault } from "./JoinScreen";
import { words } from "./words";

const say = words.phrasesDialog;

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
      title={say.myPhrases}
      onClose={onClose}
      actions={
        <>
          <button type="button" className="btn btn-sm" onClick={onClose}>
            {say.leaveIt}
          </button>
          <button
            type="button"
            className="btn btn-sm btn-primary"
            disabled={keep.isPending}
            onClick={() => keep.mutate()}
          >
            {say.keep}
          </button>
        </>
      }
    >
      <label className="flex flex-col gap-1">
        {say.oneOnEachLineThey}
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
