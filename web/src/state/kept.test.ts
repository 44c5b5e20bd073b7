import { beforeEach, expect, test, vi } from "vitest";
import { isDraft } from "../features/plan/kept";
import { allKept, keep, putBy, readKept } from "./kept";

const DRAFT = { document: { format: "rumek.plan/1", pack: { chemistry: "lipo", series: 6 } }, links: {} };

beforeEach(() => {
  localStorage.clear();
  sessionStorage.clear();
});

test("what was kept comes back, this window's own first", () => {
  keep("rumek.draft", DRAFT, localStorage);
  expect(readKept("rumek.draft", isDraft, sessionStorage, localStorage)).toEqual(DRAFT);
  const own = { ...DRAFT, id: "own" };
  keep("rumek.draft", own, sessionStorage);
  expect(readKept("rumek.draft", isDraft, sessionStorage, localStorage)).toEqual(own);
  keep("rumek.draft", undefined, sessionStorage, localStorage);
  expect(readKept("rumek.draft", isDraft, sessionStorage, localStorage)).toBeUndefined();
});

test.each(["", "{", "null", "7", "[]", '"text"', "{}", '{"document":null,"links":{}}', JSON.stringify({ ...DRAFT, document: { ...DRAFT.document, pack: { series: "6" } } })])(
  "another text is put by under its name, and the next storage is asked: %s",
  (text) => {
    sessionStorage.setItem("rumek.draft", text);
    localStorage.setItem("rumek.draft", JSON.stringify(DRAFT));
    expect(readKept("rumek.draft", isDraft, sessionStorage, localStorage)).toEqual(DRAFT);
    expect(sessionStorage.getItem("rumek.draft")).toBeNull();
    expect(localStorage.getItem("rumek.draft.unreadable")).toBe(text);
  },
);

test("a draft is put by and stays to be copied", () => {
  keep("rumek.draft", DRAFT, sessionStorage, localStorage);
  localStorage.setItem("other", "not ours");
  putBy(["rumek.draft", "rumek.none"]);
  expect(allKept()).toEqual({ "rumek.draft.unreadable": JSON.stringify(DRAFT) });
});

test("a storage that is full stops nobody", () => {
  const full = vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
    throw new DOMException("full", "QuotaExceededError");
  });
  expect(() => {
    keep("rumek.draft", DRAFT, localStorage);
  }).not.toThrow();
  full.mockRestore();
});
