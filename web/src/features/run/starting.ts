import type { LinksDoc, PlanDoc, Schemas } from "../../api/client";

/** A plan about to be carried out, and what was measured so far; it survives a reload. */
export interface Starting {
  plan: PlanDoc;
  links: LinksDoc;
  /** Of a whole discharge what takes the charge. */
  discharge?: Schemas["DischargeAskDoc"];
  answers: Schemas["PreflightAnswerDoc"][];
}

const KEY = "rumek.starting";

export function startWith(plan: PlanDoc, links: LinksDoc, discharge?: Schemas["DischargeAskDoc"]) {
  keepStarting({ plan, links, answers: [], ...(discharge && { discharge }) });
}

export function keepStarting(starting: Starting | undefined) {
  if (starting) localStorage.setItem(KEY, JSON.stringify(starting));
  else localStorage.removeItem(KEY);
}

export function starting(): Starting | undefined {
  const text = localStorage.getItem(KEY);
  if (!text) return undefined;
  try {
    return JSON.parse(text) as Starting;
  } catch {
    return undefined;
  }
}

/** The answers with one of them given, or given anew. */
export function withAnswer(answers: Starting["answers"], answer: Schemas["PreflightAnswerDoc"]): Starting["answers"] {
  return [...answers.filter((one) => one.code !== answer.code), answer];
}
