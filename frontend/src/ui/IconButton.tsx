import type { LucideIcon } from "lucide-react";

interface IconButtonProps {
  icon: LucideIcon;
  label: string;
  /** The tip under the pointer, where it differs from the name: it may tell the key. */
  title?: string;
  size?: number;
  disabled?: boolean;
  onClick: () => void;
}

/** A square button that shows a picture and says its name. */
export function IconButton({ icon: Icon, label, title, size = 18, disabled, onClick }: IconButtonProps) {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-sm btn-square"
      aria-label={label}
      title={title ?? label}
      disabled={disabled}
      onClick={onClick}
    >
      <Icon size={size} />
    </button>
  );
}
