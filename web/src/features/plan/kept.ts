import type { LinksDoc, PlanDoc, Schemas } from "../../api/client";

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
