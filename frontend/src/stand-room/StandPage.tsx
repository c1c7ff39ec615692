import { call } from "../api/client";
import { readStand } from "../api/queries";
import type { StandFile, StandFull } from "../api/types";
import { type OpenedKind, Opening } from "../sheet/Opening";
import { t } from "../words";
import { StandScreen } from "./StandScreen";

const STAND: OpenedKind<StandFull, StandFile> = {
  noun: "setUp",
  read: readStand,
  restore: (id) => call("post", "/api/stands/{stand_id}/restore", { path: { stand_id: id } }),
  copy: ({ document }) => call("post", "/api/stands", { body: { document } }),
  address: (id) => `/stand/${id}`,
  list: "/stand",
  all: t("stand.standPage.allSetUps"),
};

/** One set-up on the model stand. */
export function StandPage() {
  return (
    <Opening kind={STAND} face="stand">
      {(full, tabs) => <StandScreen full={full} tabs={tabs} />}
    </Opening>
  );
}
