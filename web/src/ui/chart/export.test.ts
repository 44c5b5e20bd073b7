import { expect, test } from "vitest";
import { point, result } from "../../testing/result";
import { fileName } from "../download";
import { curveCsv } from "./export";

test("the curve is written under the format's own names, a column a stage", () => {
  const csv = curveCsv([point(0, 4, "pack_rating", [5, 4])], result().stages);
  expect(csv).toBe("t_s,pack_v,current_a,power_w,soc,limit,source_a,pack_a\n0,23,4,92,0.3,pack_rating,5,4\n");
});

test("a file is named after its plan", () => {
  expect(fileName("Tow-plane: evening, öäü", "csv")).toBe("tow-plane-evening-o-a-u.csv");
  expect(fileName("  ", "json")).toBe("charge-plan.json");
  expect(fileName(null, "svg")).toBe("charge-plan.svg");
});
