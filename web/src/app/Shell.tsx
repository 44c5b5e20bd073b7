import { Button, type InputRef } from "antd";
import { lazy, type MouseEvent, useRef, useState } from "react";
import { NavLink, Outlet } from "react-router";
import { useAway } from "../api/reach";
import { useTold } from "../features/bench/alarm";
import { Watch } from "../features/bench/Watch";
import { QuickLineBar } from "../features/plan/QuickLineBar";
import { useStorageFull } from "../state/kept";
import { chooseScheme, useScheme } from "../theme/scheme";
import { clock } from "../ui/clock";
import { OnceOpened } from "../ui/OnceOpened";
import { keysOn, useKeys } from "./keys";
import "./shell.css";

const KeyMap = lazy(() => import("./KeyMap").then((module) => ({ default: module.KeyMap })));

const SCREENS = [
  { to: "/bench", name: "Bench" },
  { to: "/plan", name: "Plan" },
  { to: "/rescue", name: "Rescue" },
  { to: "/run", name: "Run" },
  { to: "/shelf", name: "Shelf" },
  { to: "/gear", name: "Gear" },
  { to: "/guide", name: "Guide" },
] as const;

/** The address stays: it carries what is open. */
function toMain(event: MouseEvent) {
  event.preventDefault();
  document.getElementById("main")?.focus();
}

/** What stands around every screen: the name, the way to the others, the quick line. */
export function Shell() {
  const line = useRef<InputRef>(null);
  const [mapOpen, setMapOpen] = useState(false);
  const scheme = useScheme();
  const away = useAway();
  const storageFull = useStorageFull();
  useKeys({
    "?": () => {
      setMapOpen(true);
    },
    "/": () => line.current?.focus({ cursor: "all" }),
    "Ctrl s": () => document.querySelector<HTMLButtonElement>(".plan-file .ant-btn-primary")?.click(),
  });
  return (
    <>
      <a className="skip-link" href="#main" onClick={toMain}>
        To the content
      </a>
      <header className="app-bar">
        <span className="app-name">rumek</span>
        <nav aria-label="Screens">
          {SCREENS.map(({ to, name }) => (
            <NavLink key={to} to={to}>
              {name}
            </NavLink>
          ))}
        </nav>
        <QuickLineBar inputRef={line} />
        <Button
          size="small"
          type="text"
          onClick={() => {
            chooseScheme(scheme === "dark" ? "light" : "dark");
          }}
        >
          {scheme === "dark" ? "Light" : "Dark"}
        </Button>
        <Button
          size="small"
          type="text"
          aria-label="Keys and notices"
          onClick={() => {
            setMapOpen(true);
          }}
        >
          {keysOn() ? "? Keys" : "Keys off"}
        </Button>
      </header>
      {away && (
        <p className="away" role="status">
          The server cannot be reached since {clock(away.toISOString())}. What is shown was fetched before; what you enter is kept in this browser.
        </p>
      )}
      {storageFull && (
        <p className="away" role="status">
          This browser&apos;s storage is full. What you type now is lost when you close or reload this page: save it first.
        </p>
      )}
      <main id="main" tabIndex={-1}>
        <Outlet />
      </main>
      {useTold() && <Watch />}
      <OnceOpened open={mapOpen}>
        <KeyMap
          open={mapOpen}
          onClose={() => {
            setMapOpen(false);
          }}
        />
      </OnceOpened>
    </>
  );
}
