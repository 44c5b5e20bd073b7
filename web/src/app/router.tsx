import { lazy, Suspense } from "react";
import { createBrowserRouter, Navigate } from "react-router";
import BenchScreen from "../features/bench/BenchScreen";
import PlanScreen from "../features/plan/PlanScreen";
import { CrashPage } from "./CrashPage";
import { Shell } from "./Shell";

const ShelfScreen = lazy(() => import("../features/shelf/ShelfScreen"));
const PackPage = lazy(() => import("../features/shelf/PackPage"));
const CellsScreen = lazy(() => import("../features/shelf/CellsScreen"));
const CompareScreen = lazy(() => import("../features/compare/CompareScreen"));
const RescueScreen = lazy(() => import("../features/rescue/RescueScreen"));
const RunScreen = lazy(() => import("../features/run/RunScreen"));
const GuideScreen = lazy(() => import("../features/guide/GuideScreen"));
const GearScreen = lazy(() => import("../features/gear/GearScreen"));

const waiting = <p className="screen-note">One moment…</p>;

export const router = createBrowserRouter([
  {
    element: <Shell />,
    errorElement: <CrashPage />,
    children: [
      // A screen that fails leaves the way to the others.
      {
        errorElement: <CrashPage />,
        children: [
          { index: true, element: <Navigate to="/bench" replace /> },
          { path: "bench", element: <BenchScreen /> },
          { path: "plan", element: <PlanScreen /> },
          { path: "plan/:id", element: <PlanScreen /> },
          { path: "compare", element: <Suspense fallback={waiting}><CompareScreen /></Suspense> },
          { path: "guide", element: <Suspense fallback={waiting}><GuideScreen /></Suspense> },
          { path: "rescue", element: <Suspense fallback={waiting}><RescueScreen /></Suspense> },
          { path: "rescue/:id", element: <Suspense fallback={waiting}><RescueScreen /></Suspense> },
          { path: "run", element: <Suspense fallback={waiting}><RunScreen /></Suspense> },
          { path: "run/:id", element: <Suspense fallback={waiting}><RunScreen /></Suspense> },
          { path: "shelf", element: <Suspense fallback={waiting}><ShelfScreen /></Suspense> },
          { path: "shelf/:id", element: <Suspense fallback={waiting}><PackPage /></Suspense> },
          { path: "shelf/:id/edit", element: <Suspense fallback={waiting}><ShelfScreen /></Suspense> },
          { path: "shelf/cells", element: <Suspense fallback={waiting}><CellsScreen /></Suspense> },
          { path: "gear", element: <Suspense fallback={waiting}><GearScreen /></Suspense> },
          { path: "gear/:id", element: <Suspense fallback={waiting}><GearScreen /></Suspense> },
          { path: "*", element: <p className="screen-note">There is no such page. The screens are at the top.</p> },
        ],
      },
    ],
  },
]);
