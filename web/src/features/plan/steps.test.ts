import { beforeEach, expect, test, vi } from "vitest";
import { takeFromAside, useAside } from "./aside";
import { changeDraft, currentDraft, draftOf, goBackTo, setDraft, step, steps } from "./draft";
import { renderHook } from "@testing-library/react";

const row = {
  id: "01960000-0000-7000-8000-000000000041",
  version: 3,
  created_at: "",
  updated_at: "",
  archived_at: null,
  links: {},
  document: { format: "rumek.plan/1", name: "Tow", pack: { series: 6 } },
};
const series = () => currentDraft()?.document.pack?.series;
const aside = () => renderHook(useAside).result.current;

beforeEach(() => {
  vi.useRealTimers();
  for (const one of aside()) takeFromAside(one.draft);
  setDraft(draftOf(row));
  steps.forget();
});

test("every change can be taken back and made again", () => {
  changeDraft("/pack/series", 5);
  changeDraft("/practice", "gentle");
  expect(step("back")).toBe(true);
  expect([series(), currentDraft()?.document.practice]).toEqual([5, undefined]);
  step("back");
  expect(series()).toBe(6);
  expect(step("back")).toBe(false);
  step("forth");
  step("forth");
  expect([series(), currentDraft()?.document.practice]).toEqual([5, "gentle"]);
  changeDraft("/pack/series", 4);
  expect(steps.has("back")).toBe(true);
  step("back");
  changeDraft("/pack/series", 3);
  expect(steps.has("forth")).toBe(false);
});

test("typing one value is one step, the next after a pause is another", () => {
  vi.useFakeTimers({ toFake: ["Date"] });
  vi.setSystemTime(10_000);
  changeDraft("/pack/series", 1);
  changeDraft("/pack/series", 12);
  vi.setSystemTime(12_000);
  changeDraft("/pack/series", 8);
  step("back");
  expect(series()).toBe(12);
  step("back");
  expect(series()).toBe(6);
});

test("a plan that was not saved is put aside when another takes its place, and can be taken up again", () => {
  changeDraft("/pack/series", 5);
  setDraft({ document: { format: "rumek.plan/1", pack: { series: 3 } }, links: {} });
  expect(aside().map((one) => one.draft.document.pack?.series)).toEqual([5]);
  const kept = aside()[0]?.draft;
  if (kept) setDraft(kept);
  expect(series()).toBe(5);
  expect(aside().map((one) => one.draft.document.pack?.series)).toEqual([3]);
  step("back");
  expect(series()).toBe(3);
});

test("a saved plan is not put aside, nor what a line is given up for", () => {
  setDraft({ document: { format: "rumek.plan/1", pack: { series: 3 } }, links: {} });
  expect(aside()).toEqual([]);
  goBackTo(draftOf(row));
  expect(aside()).toEqual([]);
});

test("after a save a step back is a change of what was saved", () => {
  changeDraft("/pack/series", 5);
  const now = currentDraft();
  if (now) setDraft({ ...draftOf({ ...row, version: 4, document: now.document }), of: now.of });
  step("back");
  expect(currentDraft()).toMatchObject({ id: row.id, version: 4, document: { pack: { series: 6 } } });
});
