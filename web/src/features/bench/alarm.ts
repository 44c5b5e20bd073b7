import { useEffect, useSyncExternalStore } from "react";

import { keep, readKept } from "../../state/kept";
import { ofList, shaped } from "../../state/shape";

const KEY = "rumek.tell";
/** A look that is this late when the page comes back is told as well, ms. */
const LATE_MS = 60 * 60_000;
const LONGEST_TIMER_MS = 2 ** 31 - 1;
/** The looks that were told lately, of all tabs. */
const TOLD_KEY = "rumek.told";
const REMEMBERED = 50;
const areTags = shaped<string[]>(ofList({ type: "string" }));

const PRESSES = ["pointerdown", "keydown"] as const;

const listeners = new Set<() => void>();
let sound: AudioContext | undefined;

const isTold = () => localStorage.getItem(KEY) === "on";

/** Whether the person wants to be told when a look is due. */
export function useTold(): boolean {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      window.addEventListener("storage", listener);
      return () => {
        listeners.delete(listener);
        window.removeEventListener("storage", listener);
      };
    },
    isTold,
  );
}

/** Turns telling on or off; says what the browser does not allow. */
export async function tellMe(on: boolean): Promise<string | undefined> {
  localStorage.setItem(KEY, on ? "on" : "off");
  for (const listener of listeners) listener();
  if (!on) return undefined;
  await mayRing();
  ring();
  if (!("Notification" in window)) return "This browser shows no notifications; the sound alone will tell.";
  const allowed = await Notification.requestPermission();
  return allowed === "granted" ? undefined : "Notifications are not allowed for this page; the sound alone will tell, while a page is open.";
}

/** A browser sounds only once the person has pressed something on the page: to be called then. */
async function mayRing() {
  sound ??= new AudioContext();
  await sound.resume();
}

/** Two soft tones, as from a glass. */
function ring() {
  if (sound?.state !== "running") return;
  for (const [after_s, hertz] of [
    [0, 660],
    [0.28, 880],
  ] as const) {
    const tone = sound.createOscillator();
    const loud = sound.createGain();
    const at = sound.currentTime + after_s;
    tone.frequency.value = hertz;
    loud.gain.setValueAtTime(0, at);
    loud.gain.linearRampToValueAtTime(0.25, at + 0.02);
    loud.gain.exponentialRampToValueAtTime(0.001, at + 0.6);
    tone.connect(loud).connect(sound.destination);
    tone.start(at);
    tone.stop(at + 0.65);
  }
}

/** Whether it falls to this tab to tell of a look: to the first that comes to it, and only once. */
export function claimed(tag: string): Promise<boolean> {
  return navigator.locks.request(TOLD_KEY, () => {
    const before = readKept(TOLD_KEY, areTags, localStorage) ?? [];
    if (before.includes(tag)) return false;
    keep(TOLD_KEY, [...before, tag].slice(-REMEMBERED), localStorage);
    return true;
  });
}

async function show(name: string, why: string, tag: string) {
  if (!("Notification" in window) || Notification.permission !== "granted") return;
  if (!(await claimed(tag))) return;
  const content = { body: why, tag, icon: "/mark.svg" };
  // Without a secure origin there is none. One just registered is waited for: a phone shows nothing without it.
  const registered = "serviceWorker" in navigator ? await navigator.serviceWorker.getRegistration() : undefined;
  if (registered) await (await navigator.serviceWorker.ready).showNotification(`${name}: look now`, content);
  else new Notification(`${name}: look now`, content);
}

export interface Due {
  id: string;
  name: string;
  why: string;
  /** ms since 1970, by this clock. */
  at: number;
}

const told = new Set<string>();

/** Tells of each look once, when it is due: the sound in every tab that may, the notification from one. */
export function useAlarm(dues: readonly Due[]) {
  const on = useTold();
  const key = JSON.stringify(dues);
  useEffect(() => {
    if (!on) return undefined;
    const pressed = () => void mayRing();
    for (const press of PRESSES) window.addEventListener(press, pressed, { once: true });
    return () => {
      for (const press of PRESSES) window.removeEventListener(press, pressed);
    };
  }, [on]);
  useEffect(() => {
    if (!on) return undefined;
    const timers = (JSON.parse(key) as Due[]).flatMap((due) => {
      const tag = `${due.id} ${Math.round(due.at / 1000)}`;
      const wait = due.at - Date.now();
      if (told.has(tag) || wait < -LATE_MS || wait > LONGEST_TIMER_MS) return [];
      return [
        setTimeout(
          () => {
            told.add(tag);
            ring();
            void show(due.name, due.why, tag);
          },
          Math.max(0, wait),
        ),
      ];
    });
    return () => {
      for (const timer of timers) clearTimeout(timer);
    };
  }, [on, key]);
}
