import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { call } from "../api/client";
import { setsQuery } from "../api/queries";
import type { Skill } from "../api/types";

/** How a set is asked for: of a length, of one skill, or as another was. */
interface Asked {
  length?: 10 | 20 | 50;
  skill?: Skill;
  repeat_of?: string;
}

/** Begin a set of questions, ten unless asked otherwise, and go to it. */
export function useBeginSet() {
  const go = useNavigate();
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (asked: Asked) => call("post", "/api/practice/sets", { body: { length: 10, ...asked } }),
    onSuccess: async (set) => {
      await queries.invalidateQueries(setsQuery);
      await go(`/practice/sets/${set.id}`);
    },
  });
}
