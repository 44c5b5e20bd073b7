import { answered, api, OfflineError, type PlanDoc } from "../../api/client";
import { isPlan } from "./kept";

/**
 * The one door of a plan that comes from outside, by file or by link. The core says what is wrong with it, down to the
 * line; while the server is away the plan's shape alone is checked.
 *
 * @throws ProblemError what is wrong with it; OfflineError where it is no plan by its shape and nobody can say why.
 */
export async function throughDoor(text: string): Promise<PlanDoc> {
  const read = parsed(text);
  try {
    await answered(api.POST("/api/plan", { body: text as PlanDoc, bodySerializer: (body) => body as string }));
  } catch (error) {
    if (!(error instanceof OfflineError && isPlan(read))) throw error;
  }
  if (!isPlan(read)) throw new Error("This is no plan. Ask whoever sent it to save it again.");
  return read;
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
