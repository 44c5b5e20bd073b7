import type { LinksDoc, PlanDoc, Schemas } from "../../api/client";
import { ofDocument, ofFields, ofList, shaped } from "../../state/shape";

/** What a line leaves open, and what was taken for granted. */
export interface Asked {
  /** The line. */
  text: string;
  /** The plan it was read as: a field that differs from it now was answered. */
  plan: PlanDoc;
  ask: readonly Schemas["AskDoc"][];
  assumed: readonly Schemas["AssumedDoc"][];
  /** Pieces of the line that nothing was made of. */
  lost: readonly string[];
  /** Questions that were put away unanswered. */
  left: readonly string[];
}

/** The plan on the bench: saved or not, it survives a reload and a lost connection. */
export interface Draft {
  document: PlanDoc;
  links: LinksDoc;
  /** The saved plan it is, and the version it is based on. */
  id?: string | undefined;
  version?: number | undefined;
  /** What was last saved, to tell whether anything changed since. */
  saved?: string | undefined;
  /** Which thing on the bench it is: kept while it is changed, another once it is replaced. */
  of?: number | undefined;
  /** What the line it was read from leaves open. */
  asked?: Asked | undefined;
}

const TEXT = { type: "string" } as const;
const NUMBER = { type: "number" } as const;
const PLAN = { allOf: [ofDocument("PlanDoc"), ofFields({ format: { const: "rumek.plan/1" } }, ["format"])] };
const ASKED = ofFields(
  {
    text: TEXT,
    plan: PLAN,
    ask: ofList(ofDocument("AskDoc")),
    assumed: ofList(ofDocument("AssumedDoc")),
    lost: ofList(TEXT),
    left: ofList(TEXT),
  },
  ["text", "plan", "ask", "assumed", "lost", "left"],
);
export const DRAFT = ofFields(
  { document: PLAN, links: ofDocument("LinksDoc"), id: TEXT, version: NUMBER, saved: TEXT, of: NUMBER, asked: ASKED },
  ["document", "links"],
);

/** Whether something is a plan document by its shape; the core judges its values. */
export const isPlan = shaped<PlanDoc>(PLAN);
export const isDraft = shaped<Draft>(DRAFT);
