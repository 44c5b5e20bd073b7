import type { LinksDoc, PlanDoc } from "../../api/client";

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
}
