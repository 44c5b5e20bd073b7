import { Button, Drawer } from "antd";
import { type Stored, useRows } from "../../api/shelves";
import { explain } from "../../ui/feedback";
import { overlays } from "../../ui/overlays";
import { packWords, shownDate, sourceWords } from "../../ui/words";
import { takeFromAside } from "./aside";
import { draftOf, setDraft } from "./draft";
import { AsideList } from "./PutAside";
import type { usePlanFile } from "./usePlanFile";

interface Props {
  open: boolean;
  onClose: () => void;
  file: ReturnType<typeof usePlanFile>;
  currentId: string | undefined;
}

/** Every saved plan. */
export function PlansDrawer({ open, onClose, file, currentId }: Props) {
  const rows = useRows("plans");
  return (
    <Drawer title="Plans" placement="left" size="default" open={open} onClose={onClose} getContainer={overlays} destroyOnHidden>
      <AsideList
        onTake={(one) => {
          setDraft(one.draft);
          onClose();
        }}
        onDrop={(one) => {
          takeFromAside(one.draft);
        }}
      />
      {rows.isError && <p className="drawer-note">{explain(rows.error)}</p>}
      {rows.isLoading && <p className="drawer-note">Fetching the plans…</p>}
      {rows.data?.length === 0 && <p className="drawer-note">No plan is saved yet. Make one and press Save.</p>}
      <ul className="plan-list">
        {rows.data?.map((row) => (
          <li key={row.id} className={row.id === currentId ? "current" : ""}>
            <button
              type="button"
              className="plain-button plan-open"
              onClick={() => {
                file.open(row);
                onClose();
              }}
            >
              <strong>{row.document.name ?? "Unnamed plan"}</strong>
              <span className="muted">{words(row)}</span>
            </button>
            <span className="plan-actions">
              <Button
                size="small"
                type="text"
                aria-label={`Duplicate ${row.document.name ?? "plan"}`}
                onClick={() => {
                  file.duplicate(draftOf(row));
                  onClose();
                }}
              >
                Duplicate
              </Button>
              <Button
                size="small"
                type="text"
                danger
                aria-label={`Delete ${row.document.name ?? "plan"}`}
                onClick={() => void file.remove(row)}
              >
                Delete
              </Button>
            </span>
          </li>
        ))}
      </ul>
    </Drawer>
  );
}

const words = ({ document, updated_at }: Stored<"plans">) =>
  [document.pack && packWords(document.pack), document.source && sourceWords(document.source), shownDate(updated_at)]
    .filter(Boolean)
    .join(" · ");
