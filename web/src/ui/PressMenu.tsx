import type { MenuProps } from "antd";
import { cloneElement, lazy, type MouseEventHandler, type ReactElement, Suspense, useState } from "react";

const fetched = () => import("./ListedMenu");
const ListedMenu = lazy(fetched);

interface Props {
  items: MenuProps["items"];
  /** The button that opens it. */
  children: ReactElement<{ onClick?: MouseEventHandler; onPointerEnter?: () => void; onFocus?: () => void; "aria-haspopup"?: "menu" }>;
}

/** A button with a menu. What draws menus is fetched when the first of them is about to be pressed: no page waits for it. */
export function PressMenu({ items, children }: Props) {
  const [pressed, setPressed] = useState(false);
  const button = cloneElement(children, {
    "aria-haspopup": "menu",
    onPointerEnter: () => void fetched(),
    onFocus: () => void fetched(),
    onClick: () => {
      setPressed(true);
    },
  });
  if (!pressed) return button;
  return (
    <Suspense fallback={button}>
      <ListedMenu items={items}>{children}</ListedMenu>
    </Suspense>
  );
}
