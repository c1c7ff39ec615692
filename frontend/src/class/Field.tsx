import { type InputHTMLAttributes, type ReactNode, useId } from "react";
import { t } from "../words";

/** A line to write in, under its name, with what to mind below it. */
export function Field({
  label,
  hint,
  value,
  onChange,
  ...rest
}: {
  label: string;
  hint?: ReactNode;
  value: string;
  onChange: (value: string) => void;
} & Omit<InputHTMLAttributes<HTMLInputElement>, "value" | "onChange">) {
  const id = useId();
  return (
    <div className="flex max-w-md flex-col gap-1">
      <label htmlFor={id} className="font-semibold">
        {label}
      </label>
      <input
        id={id}
        className="input w-full"
        value={value}
        aria-describedby={hint ? `${id}-hint` : undefined}
        onChange={(event) => onChange(event.target.value)}
        {...rest}
      />
      {hint && (
        <p id={`${id}-hint`} className="text-sm leading-snug">
          {hint}
        </p>
      )}
    </div>
  );
}

interface NameFieldProps {
  label: string;
  hint?: string;
  value: string;
  onChange: (value: string) => void;
}

/** The name that a person signs in with, as long as the server takes it. */
export function NameField(props: NameFieldProps) {
  return <Field {...props} autoComplete="username" maxLength={60} required />;
}

const PASSPHRASE_HINT = t("class.field.passphraseHint");

interface NewPassphraseFieldProps {
  label?: string;
  /** What else to mind. */
  more?: string;
  shown?: boolean;
  value: string;
  onChange: (value: string) => void;
}

/** A new passphrase, as long as the server takes it; `shown` where it is to be read and told. */
export function NewPassphraseField({
  label = t("class.field.passphrase"),
  more = "",
  shown = false,
  value,
  onChange,
}: NewPassphraseFieldProps) {
  return (
    <Field
      label={label}
      hint={`${PASSPHRASE_HINT} ${more}`.trim()}
      value={value}
      onChange={onChange}
      type={shown ? "text" : "password"}
      autoComplete={shown ? "off" : "new-password"}
      minLength={8}
      maxLength={128}
      required
    />
  );
}
