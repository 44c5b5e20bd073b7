import createClient from "openapi-fetch";
import { setReached } from "./reach";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type PlanDoc = Schemas["PlanDoc"];
export type PackDoc = Schemas["PackDoc"];
export type SourceDoc = Schemas["SourceDoc"];
export type ChargerDoc = Schemas["ChargerDoc"];
export type LeadDoc = Schemas["LeadDoc"];
export type SizingDoc = Schemas["SizingDoc"];
export type ResultDoc = Schemas["ResultDoc"];
export type CheckDoc = Schemas["CheckDoc"];
export type CurvePoint = Schemas["CurvePoint"];
export type QuickLine = Schemas["QuickLine"];
export type LimitCode = Schemas["LimitCode"];
export type Place = Schemas["Place"];
export type LinksDoc = Schemas["LinksDoc"];
export type RescueDoc = Schemas["RescueDoc"];
export type RescueCaseDoc = Schemas["RescueCaseDoc"];
export type RescueResultDoc = Schemas["RescueResultDoc"];
export type RescueStageDoc = Schemas["RescueStageDoc"];
export type JudgementDoc = Schemas["JudgementDoc"];
export type RunDoc = Schemas["RunDoc"];
export type RunStateDoc = Schemas["RunStateDoc"];
export type LogMappingDoc = Schemas["LogMappingDoc"];
export type RecordDoc = Schemas["RecordDoc"];
export type StandingDoc = Schemas["StandingDoc"];
export type LogResultDoc = Schemas["LogResultDoc"];
export type TestDoc = Schemas["TestDoc"];
export type MatchDoc = Schemas["MatchDoc"];
export type MatchResultDoc = Schemas["MatchResultDoc"];
export type Problem = Schemas["Problem"];

export const api = createClient<paths>({ baseUrl: "/" });

/** The server answered, with a problem. */
export class ProblemError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

/** The server did not answer at all. */
export class OfflineError extends Error {}

/** The data of an answer; throws what went wrong. */
export async function answered<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer;
  try {
    answer = await call;
  } catch (cause) {
    if (cause instanceof DOMException && cause.name === "AbortError") throw cause;
    setReached(false);
    throw new OfflineError("Rumek's server cannot be reached. What you typed stays here.", { cause });
  }
  setReached(true);
  if (answer.data !== undefined) return answer.data;
  throw new ProblemError(asProblem(answer.error, answer.response));
}

function asProblem(body: unknown, response: Response): Problem {
  if (typeof body === "object" && body !== null && "detail" in body) return body as Problem;
  return { type: "urn:rumek:unknown", title: "Unknown", status: response.status, detail: `The server answered ${response.status}.`, problems: [] };
}
