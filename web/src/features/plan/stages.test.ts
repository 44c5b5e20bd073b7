import { expect, test } from "vitest";
import { point, result } from "../../testing/result";
import { momentAt } from "../../ui/chart/moment";
import { drawnChain } from "./stages";

test("the stage that binds is the pinch, and moves with the moment", () => {
  const answer = result({
    pinch: [
      { from_s: 0, to_s: 60, limit: "source_power", at: "source" },
      { from_s: 60, to_s: 90, limit: "set_voltage", at: "pack" },
    ],
    curve: [point(0, 3, "source_power", [3, 4]), point(60, 3, "set_voltage", [3, 3]), point(90, 1, "set_voltage", [3, 1])],
  });
  const at = (t_s: number) => drawnChain(answer, momentAt(answer.curve, t_s));
  expect(at(0).stages.map((stage) => stage.pinch)).toEqual([true, false]);
  expect(at(0).stages[0]?.foot).toBe("the pinch: supply's watts, 3 A");
  expect(at(0).stages[1]?.foot).toBe("could take 4 A, 1 A to spare");
  expect(at(90).stages.map((stage) => stage.pinch)).toEqual([false, true]);
  expect(at(90)).toMatchObject({ flowA: 1, widestA: 4 });
});

test("a stage that nothing limits says so", () => {
  const stages = [result().stages[0], { at: "input_lead" as const, label: "Lead", rating: "14 AWG", heat_wh: 0 }, result().stages[1]];
  const answer = result({ stages: stages.filter((stage) => stage !== undefined), curve: [point(0, 4, "pack_rating", [5, 5, 4])] });
  expect(drawnChain(answer, momentAt(answer.curve, 0)).stages.map((stage) => stage.foot)).toEqual([
    "could give 5 A, 1 A to spare",
    "limits nothing here",
    "the pinch: pack's rate, 4 A",
  ]);
});

test("a load across the pack is teed off, and counts as flow before the tee", () => {
  const stages = [...result().stages, { at: "load" as const, label: "Load", rating: "1.5 A", heat_wh: 0 }];
  const answer = result({ stages, curve: [point(0, 3.5, "source_current", [5, 10, 1.5]), point(9, 3.5, "source_current", [5, 10, 1.5])] });
  const chain = drawnChain(answer, momentAt(answer.curve, 0));
  expect(chain.stages.map((stage) => stage.at)).toEqual(["source", "pack"]);
  expect(chain.tee).toMatchObject({ couldA: 1.5, foot: "draws 1.5 A" });
  expect(chain.stages[1]?.foot).toBe("could take 10 A, 5 A to spare");
});

test("without a charge the limits stand for the stages, and nothing flows", () => {
  const chain = drawnChain(result({ curve: [], pinch: [], settings: null }), undefined);
  expect(chain.stages.map((stage) => stage.couldA)).toEqual([5, 4]);
  expect(chain.flowWords).toBe("nothing flows");
  const stages = [...result().stages.slice(1), { at: "load" as const, label: "Load", rating: "14 W", heat_wh: 0 }];
  const run = drawnChain(result({ stages, curve: [], pinch: [], limits: [], settings: null }), undefined);
  expect(run.stages.map((stage) => stage.couldA)).toEqual([0, 0]);
  expect(run.stages[1]?.foot).toBe("would draw 14 W");
});
