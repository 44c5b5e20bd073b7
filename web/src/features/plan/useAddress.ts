import { useEffect, useRef, useState } from "react";
import { NavigationType, useLocation, useNavigate, useNavigationType, useParams } from "react-router";
import { answered, api } from "../../api/client";
import { explain } from "../../ui/feedback";
import { currentDraft, type Draft, draftOf, leftAt, setDraft } from "./draft";
import { throughDoor } from "./planDoor";
import { carriesPlan, planOfFragment } from "./share";

interface Left {
  /** Which thing on the bench an unsaved plan's address stands for in this window. */
  of?: number;
}

/**
 * Keeps the address and the plan on the bench together: a saved plan is at `/plan/ID`; a link may carry an unsaved
 * one; Back and Forward walk through what was open.
 *
 * @returns why nothing can be opened by this address; `undefined` where something is, or is being fetched.
 */
export function useAddress(draft: Draft | undefined): string | undefined {
  const { id } = useParams();
  const location = useLocation();
  const navigate = useNavigate();
  const [dead, setDead] = useState<{ key: string; why: string }>();
  const type = useNavigationType();
  // The place itself and not its key: a step back may come before the step it goes back from was shown.
  const arrived = useRef<object>(undefined);
  // The step this hook asked for last may not have come yet: a busy browser puts it off while typing goes on.
  const at = useRef<{ pathname: string; of?: number }>(undefined);
  const fetching = useRef(false);

  useEffect(() => {
    const now = currentDraft();
    const left = (location.state as Left | null)?.of;
    const own = at.current !== undefined && left !== undefined && type !== NavigationType.Pop;
    const before = arrived.current;
    arrived.current = location;
    if (before !== location && !own) {
      at.current = { pathname: location.pathname, of: left };
      if (carriesPlan(location.hash)) {
        fetching.current = true;
        openLink(location.hash)
          .then(() => navigate("/plan", { replace: true, state: { of: currentDraft()?.of } satisfies Left }))
          .catch((error: unknown) => {
            setDead({ key: location.key, why: explain(error) });
          })
          .finally(() => {
            fetching.current = false;
          });
        return;
      }
      const asLeft = left !== undefined && left !== now?.of ? leftAt(left) : undefined;
      // As it was left in this window, changes and all.
      if (asLeft && asLeft.id === id) {
        setDraft(asLeft);
        return;
      }
      if (id !== undefined && now?.id !== id) {
        fetching.current = true;
        answered(api.GET("/api/plans/{id}", { params: { path: { id } } }))
          .then((row) => {
            setDraft(draftOf(row));
          })
          .catch((error: unknown) => {
            setDead({ key: location.key, why: explain(error) });
          })
          .finally(() => {
            fetching.current = false;
          });
        return;
      }
    }
    if (fetching.current || !now || !at.current) return;
    const wanted = now.id === undefined ? "/plan" : `/plan/${now.id}`;
    const here = at.current;
    if (here.pathname === wanted && (now.id !== undefined || here.of === now.of)) return;
    // The same thing under its own address is no step; another thing is one to come back from.
    const same = here.of === now.of || (here.of === undefined && here.pathname === "/plan");
    at.current = { pathname: wanted, of: now.of };
    void navigate(wanted, { replace: same, state: { of: now.of } satisfies Left });
  }, [location, id, type, draft?.id, draft?.of, navigate]);
  return dead?.key === location.key ? dead.why : undefined;
}

/** Opens the plan that a link carries, through the same door as a file. */
async function openLink(fragment: string) {
  const document = await planOfFragment(fragment);
  if (!document) throw new Error("The link does not carry a whole plan. Ask whoever sent it to send it again.");
  setDraft({ document: await throughDoor(JSON.stringify(document)), links: {} });
}
