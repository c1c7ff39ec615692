import { Menu as Ark } from "@ark-ui/react/menu";
import { ChevronDown } from "lucide-react";
import type { ReactNode } from "react";
import { Link } from "react-router";

/** A button that opens a list of things to do. */
export function Menu({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Ark.Root positioning={{ placement: "bottom-end" }} lazyMount unmountOnExit>
      <Ark.Trigger className="btn btn-ghost btn-sm">
        {name} <ChevronDown size={14} aria-hidden="true" />
      </Ark.Trigger>
      <Ark.Positioner>
        <Ark.Content className="menu-list">{children}</Ark.Content>
      </Ark.Positioner>
    </Ark.Root>
  );
}

export function MenuGroup({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Ark.ItemGroup>
      <Ark.ItemGroupLabel className="menu-part">{name}</Ark.ItemGroupLabel>
      {children}
    </Ark.ItemGroup>
  );
}

export function MenuAction({ value, onSelect, children }: { value: string; onSelect: () => void; children: string }) {
  return (
    <Ark.Item value={value} valueText={children} onSelect={onSelect} className="menu-item">
      {children}
    </Ark.Item>
  );
}

/** A place to go to. */
export function MenuLink({ to, here, children }: { to: string; here: boolean; children: string }) {
  return (
    <Ark.Item value={to} valueText={children} asChild>
      <Link to={to} aria-current={here ? "page" : undefined} className="menu-item">
        {children}
      </Link>
    </Ark.Item>
  );
}

export function MenuDownload({ href, children }: { href: string; children: string }) {
  return (
    <Ark.Item value={href} valueText={children} asChild>
      <a href={href} download className="menu-item">
        {children}
      </a>
    </Ark.Item>
  );
}

interface MenuCheckProps {
  value: string;
  checked: boolean;
  onChecked: (checked: boolean) => void;
  children: string;
}

export function MenuCheck({ value, checked, onChecked, children }: MenuCheckProps) {
  return (
    <Ark.CheckboxItem
      value={value}
      valueText={children}
      checked={checked}
      onCheckedChange={onChecked}
      className="menu-item"
    >
      <span aria-hidden="true" className="menu-tick">
        {checked ? "✓" : ""}
      </span>
      {children}
    </Ark.CheckboxItem>
  );
}
