import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { useState } from "react";
import { useRouteError } from "react-router";
import { KEY as PLAN } from "../features/plan/draft";
import { KEY as RESCUE } from "../features/rescue/case";
import { KEY as STARTING } from "../features/run/starting";
import { allKept, putBy } from "../state/kept";
import { download } from "../ui/download";
import "../ui/work.css";
import "./crash.css";

/** What is open and not saved, by the names this browser keeps it under. */
const DRAFTS = [PLAN, "rumek.steps", RESCUE, "rumek.case.steps", STARTING, "rumek.cells"];

/** In the place of a screen that failed: what is safe, and how to go on. */
export function CrashPage() {
  const error = useRouteError();
  const queries = useQueryClient();
  const [copied, setCopied] = useState(false);
  return (
    <section className="empty crash">
      <h1>This screen failed</h1>
      <p>Everything you saved is safe on the server. A charge that is going on is not touched by this.</p>
      <p>
        The draft that is open may be the reason. Copy it out, then set it aside: the screens open without it, and this browser still keeps
        it.
      </p>
      <p className="empty-actions">
        <Button
          type="primary"
          onClick={() => {
            putBy(DRAFTS);
            // What was fetched before is fetched again.
            queries.clear();
            window.location.assign("/bench");
          }}
        >
          Set this draft aside
        </Button>
        <Button
          onClick={() => {
            download("rumek-drafts.json", new Blob([JSON.stringify(allKept(), null, 2)], { type: "application/json" }));
            setCopied(true);
          }}
        >
          Copy it out
        </Button>
        <Button
          onClick={() => {
            window.location.reload();
          }}
        >
          Try again
        </Button>
      </p>
      <p role="status">{copied && "The drafts of this browser are in the file rumek-drafts.json."}</p>
      <details>
        <summary>For whoever mends Rumek</summary>
        <pre>{error instanceof Error ? (error.stack ?? error.message) : String(error)}</pre>
      </details>
    </section>
  );
}
