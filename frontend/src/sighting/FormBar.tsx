import { useState } from "react";
import type { Form, FormKind } from "../api/types";
import { InlineName } from "../ui/InlineName";
import { t } from "../words";

const FORM_KINDS: readonly FormKind[] = ["box", "cylinder", "building", "other"];

interface FormBarProps {
  forms: Form[];
  chosen: string;
  onChoose: (id: string) => void;
  onNew: () => void;
  onRename: (name: string) => void;
  onKind: (kind: FormKind) => void;
}

/** The form that is in hand: which one, what kind it is, its name, and a new one. */
export function FormBar({ forms, chosen, onChoose, onNew, onRename, onKind }: FormBarProps) {
  const [renaming, setRenaming] = useState(false);
  const form = forms.find((f) => f.id === chosen);
  const name = form?.name ?? chosen;
  return (
    <div className="flex items-center gap-1.5 border-b border-base-300 px-2 pb-2">
      {renaming ? (
        <div className="grow">
          <InlineName
            label={t("sighting.formBar.name")}
            name={name}
            onName={onRename}
            begun
            onDone={() => setRenaming(false)}
            look="w-full"
          />
        </div>
      ) : (
        <>
          <select
            className="select select-sm min-w-0 grow"
            aria-label={t("sighting.formBar.form")}
            value={chosen}
            onChange={(event) => onChoose(event.target.value)}
          >
            {forms.map((f) => (
              <option key={f.id} value={f.id}>
                {f.name ?? f.id}
              </option>
            ))}
          </select>
          <select
            className="select select-sm w-26 shrink-0"
            aria-label={t("sighting.formBar.kindOf", { name })}
            value={form?.kind ?? "box"}
            onChange={(event) => onKind(event.target.value as FormKind)}
          >
            {FORM_KINDS.map((k) => (
              <option key={k} value={k}>
                {t(`sighting.formBar.kind.${k}`)}
              </option>
            ))}
          </select>
          <button
            type="button"
            className="btn btn-ghost btn-sm px-1.5"
            onClick={() => setRenaming(true)}
            aria-label={t("sighting.formBar.rename", { name })}
          >
            {t("sighting.formBar.renameHint")}
          </button>
          <button
            type="button"
            className="btn btn-ghost btn-sm px-1.5"
            onClick={onNew}
            title={t("sighting.formBar.newFormN")}
          >
            {t("sighting.formBar.newForm")}
          </button>
        </>
      )}
    </div>
  );
}
