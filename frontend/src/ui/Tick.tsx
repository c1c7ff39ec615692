import type { ReactNode } from "react";

interface TickProps {
  checked: boolean;
  onTick: (on: boolean) => void;
  group?: string;
  className?: string;
  title?: string;
  children: ReactNode;
}

/** A box to tick, beside what it stands for; with a `group`, one of several of which one is chosen. */
export function Tick({ checked, onTick, group, className = "flex items-center gap-2", title, children }: TickProps) {
  return (
    <label className={className} title={title}>
      <input
        type={group ? "radio" : "checkbox"}
        name={group}
        className={group ? "radio radio-sm" : "checkbox checkbox-sm"}
        checked={checked}
        onChange={(event) => onTick(event.target.checked)}
      />
      {children}
    </label>
  );
}
