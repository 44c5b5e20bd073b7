import { type ComponentProps, lazy } from "react";
import { OnceOpened } from "../../ui/OnceOpened";

const Plans = lazy(() => import("./PlansDrawer").then((module) => ({ default: module.PlansDrawer })));

/** Every plan; fetched when it is first opened. */
export function PlansDrawer(props: ComponentProps<typeof Plans>) {
  return (
    <OnceOpened open={props.open}>
      <Plans {...props} />
    </OnceOpened>
  );
}

/** Fetched when it is first opened. */
export const SizingDrawer = lazy(() => import("./SizingDrawer").then((module) => ({ default: module.SizingDrawer })));
