import { useEffect, useRef } from "react";
import { useLocation, useNavigate, useParams } from "react-router";
import { answered, api } from "../../api/client";
import { useFeedback } from "../../ui/feedback";
import { currentDraft, type Draft, draftOf, leftAt, setDraft } from "./draft";
import { carriesPlan, planOfFragment } from "./share";

interface Left {
  /** Which thing on the bench an unsaved plan's address stands for in this window. */
  of?: number;
}

/**
 * Keeps the address and the plan on the bench together: a saved plan is at `/plan/ID`; a link may carry an unsaved
 * one; Back and Forward walk through what was open.
 */
export function useAddress(draft: Draft | undefined) {
  const { id } = useParams();
  const location = useLocation();
  const navigate = useNavigate();
  const feedback = useFeedback();
  const arrived = useRef<string>(undefined);
  const fetching = useRef(false);

  useEffect(() => {
    const now = currentDraft();
    const left = (location.state as Left | null)?.of;
    if (arrived.current !== location.key) {
      arrived.current = location.key;
      if (carriesPlan(location.hash)) {
        fetching.current = true;
        void planOfFragment(location.hash).then((document) => {
          fetching.current = false;
          if (document) setDraft({ document, links: {} });
          else feedback.failed(new Error("This link does not carry a whole plan: it was cut on its way. Ask for it again."));
          void navigate("/plan", { replace: true, state: { of: currentDraft()?.of } satisfies Left });
        });
        return;
      }
      const before = left !== undefined && left !== now?.of ? leftAt(left) : undefined;
      // As it was left in this window, changes and all.
      if (before && before.id === id) {
        setDraft(before);
        return;
      }
      if (id !== undefined && now?.id !== id) {
        fetching.current = true;
        answered(api.GET("/api/plans/{id}", { params: { path: { id } } }))
          .then((row) => {
            setDraft(draftOf(row));
          })
          .catch((error: unknown) => {
            feedback.failed(error);
            void navigate("/plan", { replace: true });
          })
          .finally(() => {
            fetching.current = false;
          });
        return;
      }
    }
    if (fetching.current || !now) return;
    const wanted = now.id === undefined ? "/plan" : `/plan/${now.id}`;
    const there = location.pathname === wanted && (now.id !== undefined || left === now.of);
    if (there) return;
    // The same thing under its own address is no step; another thing is one to come back from.
    const same = left === now.of || (left === undefined && id === undefined);
    void navigate(wanted, { replace: same, state: { of: now.of } satisfies Left });
  }, [location, id, draft?.id, draft?.of, navigate, feedback]);
}
