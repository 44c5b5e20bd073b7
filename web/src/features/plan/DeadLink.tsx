import { Button } from "antd";
import { useNavigate } from "react-router";
import { currentDraft, emptyDraft, setDraft } from "./draft";

/** In the place of a plan that its address does not lead to: why, and where to go on. Nothing else is shown beside it. */
export function DeadLink({ why }: { why: string }) {
  const navigate = useNavigate();
  const before = currentDraft();
  return (
    <section className="empty">
      <h1>This link opens no plan</h1>
      <p role="alert">{why}</p>
      <p className="empty-actions">
        {before && (
          <Button
            type="primary"
            onClick={() => {
              void navigate(before.id === undefined ? "/plan" : `/plan/${before.id}`, { state: { of: before.of } });
            }}
          >
            Go back to {before.document.name ? `“${before.document.name}”` : "the plan that was open"}
          </Button>
        )}
        <Button
          onClick={() => {
            setDraft(emptyDraft());
          }}
        >
          New plan
        </Button>
      </p>
    </section>
  );
}
