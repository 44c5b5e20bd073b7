import { useEffect, useRef } from "react";
import { useLocation, useNavigate, useParams } from "react-router";
import { answered, api } from "../../api/client";
import { useFeedback } from "../../ui/feedback";
import { type Case, caseOfRow, currentCase, setCase } from "./case";

/** A rescue is at `/rescue/ID`: the address and what is on screen follow each other. */
export function useAddress(one: Case | undefined) {
  const { id } = useParams();
  const location = useLocation();
  const navigate = useNavigate();
  const feedback = useFeedback();
  const arrived = useRef<string>(undefined);
  const fetching = useRef(false);

  useEffect(() => {
    const now = currentCase();
    if (arrived.current !== location.key) {
      arrived.current = location.key;
      if (id !== undefined && now?.id !== id) {
        fetching.current = true;
        answered(api.GET("/api/rescues/{id}", { params: { path: { id } } }))
          .then((row) => {
            setCase(caseOfRow(row));
          })
          .catch((error: unknown) => {
            feedback.failed(error);
            void navigate("/rescue", { replace: true });
          })
          .finally(() => {
            fetching.current = false;
          });
        return;
      }
    }
    if (fetching.current) return;
    const wanted = now ? `/rescue/${now.id}` : "/rescue";
    if (location.pathname !== wanted) void navigate(wanted, { replace: id === undefined });
  }, [location, id, one?.id, navigate, feedback]);
}
