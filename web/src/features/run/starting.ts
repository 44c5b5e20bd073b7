import type { LinksDoc, PlanDoc, Schemas } from "../../api/client";
import { keep, readKept } from "../../state/kept";
import { ofDocument, ofFields, ofList, shaped } from "../../state/shape";

/** A plan about to be carried out, and what was measured so far; it survives a reload. */
export interface Starting {
  plan: PlanDoc;
  links: LinksDoc;
  /** Of a whole discharge what takes the charge. */
  discharge?: Schemas["DischargeAskDoc"];
  answers: Schemas["PreflightAnswerDoc"][];
}

/** The name it is kept under in this browser. */
export const KEY = "rumek.starting";
const isStarting = shaped<Starting>(
  ofFields(
    {
      plan: ofDocument("PlanDoc"),
      links: ofDocument("LinksDoc"),
      discharge: ofDocument("DischargeAskDoc"),
      answers: ofList(ofDocument("PreflightAnswerDoc")),
    },
    ["plan", "links", "answers"],
  ),
);

export function startWith(plan: PlanDoc, links: LinksDoc, discharge?: Schemas["DischargeAskDoc"]) {
  keepStarting({ plan, links, answers: [], ...(discharge && { discharge }) });
}

export function keepStarting(starting: Starting | undefined) {
  keep(KEY, starting, localStorage);
}

export function starting(): Starting | undefined {
  return readKept(KEY, isStarting, localStorage);
}

/** The answers with one of them given, or given anew. */
export function withAnswer(answers: Starting["answers"], answer: Schemas["PreflightAnswerDoc"]): Starting["answers"] {
  return [...answers.filter((one) => one.code !== answer.code), answer];
}
