import { beforeEach, expect, test } from "vitest";
import { adopt, answer, askAnew, begin, cannotTell, caseOfPlan, currentCase, endStage, enter, isUnsaved, newCase, readingsOf, setCase, woke } from "./case";
import { stateWords } from "./CaseList";
import { knownRows } from "./Known";
import { clockWords } from "../../ui/clock";
import { readingWords } from "./StageRun";

const AT = new Date("2026-11-20T12:00:00Z");
const later = (seconds: number) => new Date(AT.getTime() + seconds * 1000);
const document = () => currentCase()?.document ?? {};

beforeEach(() => {
  setCase(newCase({ pack: { chemistry: "lipo", series: 4, capacity_ah: 4 } }));
});

test("an answer, and that nobody can tell, take each other's place", () => {
  cannotTell("/found/terminal_v");
  expect(document().rescue?.found?.cant_tell).toEqual(["/found/terminal_v"]);
  answer("/found/terminal_v", 9.1);
  expect(document().rescue?.found).toEqual({ terminal_v: 9.1 });
  cannotTell("/found/bms");
  cannotTell("/found/signs");
  expect(document().rescue?.found).toMatchObject({ bms: "unknown", signs: ["unknown"] });
});

test("readings belong to the stage under way and count from its beginning", () => {
  begin("precharge", AT);
  enter({ terminal_v: 11.2 }, later(61));
  endStage({ state: "reached", message: "There." }, "handover", later(600));
  enter({ terminal_v: 12.1 }, later(660));
  expect(readingsOf(document()).map(({ reading }) => reading)).toEqual([{ terminal_v: 12.1, t_s: 60 }]);
  expect(document().readings).toHaveLength(2);
  expect(document().history).toMatchObject([{ stage: "precharge", state: "reached" }]);
});

test("a board that woke leaves what its terminals read, and no stage", () => {
  answer("/found/terminal_v", 0.2);
  begin("wake", AT);
  woke(13.4, later(20));
  expect(document().stage).toBeUndefined();
  expect(document().rescue?.found).toMatchObject({ terminal_v: 13.4, woken: true });
});

test("asked anew, the pack stays and what was found goes", () => {
  answer("/found/terminal_v", 9);
  askAnew(AT);
  expect(document().rescue?.found).toBeUndefined();
  expect(document().rescue?.pack?.series).toBe(4);
});

test("a plan brings its measurements, and its charger as the normal one", () => {
  const { document: made } = caseOfPlan(
    { pack: { name: "Siren", chemistry: "lead_gel", series: 6, start: { rest_voltage_v: 8.1 }, temperature_c: 12 }, charger: { kind: "smart_charger" } },
    { pack: { id: "7", version: 3 } },
  );
  expect(made.rescue).toMatchObject({ found: { terminal_v: 8.1, temperature_c: 12 }, handover: { kind: "smart_charger" }, pack: { name: "Siren" } });
  expect(made.rescue?.pack?.start).toBeUndefined();
});

test("what was typed while it was being kept is still to be kept", () => {
  const sent = currentCase();
  if (!sent) throw new Error("there is a case");
  answer("/found/terminal_v", 9);
  adopt(sent, { id: sent.id, version: 4, document: sent.document } as never);
  const now = currentCase();
  expect(now?.version).toBe(4);
  expect(now && isUnsaved(now)).toBe(true);
});

test("what is known is told in the order it was asked", () => {
  const rows = knownRows({ pack: { chemistry: "lipo", series: 4, capacity_ah: 4 }, found: { signs: ["wet"], cant_tell: ["/found/terminal_v"], cell_voltages_v: [2.7, 2.8] } });
  expect(rows.map(({ label, value }) => `${label}: ${value}`)).toEqual([
    "Pack: 4S · 4 Ah · LiPo",
    "Looks: has been in water",
    "Terminals: can’t tell",
    "Each cell: 2.7  2.8 V",
  ]);
});

test("the clock and a reading in words", () => {
  expect([clockWords(0), clockWords(605), clockWords(5400)]).toEqual(["0:00", "10:05", "1 h 30"]);
  expect(readingWords({ terminal_v: 11.2, current_a: 0.2, alarm: true })).toBe("11.2 V · 0.2 A · swelling, smell, hiss or smoke");
  expect(stateWords({ document: { outcome: "retired" } })).toBe("retired");
});
