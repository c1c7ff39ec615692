import { Editable } from "@ark-ui/react/editable";

interface InlineNameProps {
  label: string;
  name: string;
  onName: (name: string) => void;
  look?: string;
  /** Whether editing has begun already, by something else, which wants to know when it is done. */
  begun?: boolean;
  onDone?: () => void;
}

/** A name that is changed where it stands: point at it or move onto it, type, Enter; Escape leaves it. */
export function InlineName({ label, name, onName, look = "", begun = false, onDone }: InlineNameProps) {
  return (
    <Editable.Root
      key={name}
      defaultValue={name}
      maxLength={200}
      activationMode="focus"
      defaultEdit={begun}
      onEditChange={({ edit }) => edit || onDone?.()}
      onValueCommit={({ value }) => value.trim() && value !== name && onName(value.trim())}
      className="min-w-0"
    >
      <Editable.Area className="min-w-0">
        <Editable.Input
          aria-label={label}
          aria-labelledby={undefined}
          className={`input input-sm ${look}`}
          onKeyDown={(event) => event.key === "Escape" && event.stopPropagation()}
        />
        <Editable.Preview asChild>
          <button type="button" aria-label={`${label}: ${name}`} className={`inline-name ${look}`}>
            {name}
          </button>
        </Editable.Preview>
      </Editable.Area>
    </Editable.Root>
  );
}
