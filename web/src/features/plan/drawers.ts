import { lazy } from "react";

/** Fetched when they are first opened. */
export const PlansDrawer = lazy(() => import("./PlansDrawer").then((module) => ({ default: module.PlansDrawer })));
export const SizingDrawer = lazy(() => import("./SizingDrawer").then((module) => ({ default: module.SizingDrawer })));
