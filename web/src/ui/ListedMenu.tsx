import { Dropdown, type MenuProps } from "antd";
import { type ReactElement, useEffect, useRef, useState } from "react";

interface Props {
  items: MenuProps["items"];
  children: ReactElement;
}

/** A menu under what was pressed to fetch it: open at once, and the focus stays where it was. */
export default function ListedMenu({ items, children }: Props) {
  const [open, setOpen] = useState(true);
  const holder = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    holder.current?.querySelector("button")?.focus();
  }, []);
  return (
    <span ref={holder}>
      <Dropdown trigger={["click"]} open={open} onOpenChange={setOpen} menu={{ items: items ?? [] }}>
        {children}
      </Dropdown>
    </span>
  );
}
