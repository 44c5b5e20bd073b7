import { beforeEach, expect, test } from "vitest";
import { adopt, changeDraft, copyOf, currentDraft, draftOf, isChanged, setDraft } from "./draft";

const row = {
  id: "01960000-0000-7000-8000-000000000041",
  version: 3,
  created_at: "",
  updated_at: "",
  archived_at: null,
  links: {},
  document: { format: "rumek.plan/1", name: "Tow", pack: { series: 6 } },
};

beforeEach(() => {
  setDraft(draftOf(row));
});

test("a reopened plan counts as changed only once something is", () => {
  const draft = currentDraft();
  expect(draft && isChanged(draft)).toBe(false);
  changeDraft("/pack/series", 5);
  const changed = currentDraft();
  expect(changed && isChanged(changed)).toBe(true);
  changeDraft("/pack/series", 6);
  const back = currentDraft();
  expect(back && isChanged(back)).toBe(false);
});

test("what is typed while a save is on its way stays, as a change of what was saved", () => {
  const sent = currentDraft();
  changeDraft("/pack/series", 4);
  if (sent) adopt(sent, { ...row, version: 4 });
  const after = currentDraft();
  expect(after).toMatchObject({ version: 4, document: { pack: { series: 4 } } });
  expect(after && isChanged(after)).toBe(true);
});

test("what is typed is kept for a reload", () => {
  changeDraft("/pack/series", 4);
  expect(localStorage.getItem("rumek.draft")).toContain('"series":4');
});

test("a copy is a new plan with the same values", () => {
  const copy = copyOf(draftOf(row));
  expect(copy.id).toBeUndefined();
  expect(copy.document).toMatchObject({ name: "Tow, again", pack: { series: 6 } });
});
