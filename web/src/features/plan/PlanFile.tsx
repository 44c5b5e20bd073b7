import { Button } from "antd";
import { memo } from "react";
import { useNavigate } from "react-router";
import { download, fileName } from "../../ui/download";
import { PressMenu } from "../../ui/PressMenu";
import { currentDraft, type Draft } from "./draft";
import { usePlanFile } from "./usePlanFile";
import { useShare } from "./useShare";

interface Props {
  /** Whether the plan on the bench is among the saved ones. */
  stored: boolean;
  changed: boolean;
  /** Whether an open question withholds its card: what is saved or sent would lose the question. */
  held: boolean;
  onPlans: () => void;
  onImport: () => void;
}

/** What can be done with the plan on the bench as a whole. Drawn anew only where that changes: a press asks for the
 * plan as it is then. */
export const PlanFile = memo(function PlanFile({ stored, changed, held, onPlans, onImport }: Props) {
  const file = usePlanFile();
  const share = useShare();
  const navigate = useNavigate();
  const withPlan = (what: (draft: Draft) => void) => () => {
    const draft = currentDraft();
    if (draft) what(draft);
  };
  return (
    <>
      <Button size="small" type="primary" loading={file.saving} disabled={!changed || held} title={held ? "Answer the open question first." : undefined} onClick={withPlan((draft) => void file.save(draft))}>
        {changed ? "Save" : "Saved"}
      </Button>
      <Button size="small" onClick={onPlans}>
        Plans
      </Button>
      <PressMenu
        items={[
          { key: "new", label: "New plan", onClick: file.startNew },
          { key: "copy", label: "Duplicate", onClick: withPlan(file.duplicate) },
          { key: "compare", label: "Compare with other chains", disabled: held, onClick: () => void navigate("/compare") },
          { key: "link", label: "Copy a link to it", disabled: held, onClick: withPlan((draft) => void share.link(draft)) },
          { key: "line", label: "Copy as a quick line", onClick: withPlan((draft) => void share.line(draft)) },
          {
            key: "export",
            label: "Export as a file",
            disabled: held,
            onClick: withPlan(({ document }) => {
              const text = `${JSON.stringify(document, null, 2)}\n`;
              download(fileName(document.name, "json"), new Blob([text], { type: "application/json" }));
            }),
          },
          { key: "import", label: "Open a file", onClick: onImport },
          {
            key: "delete",
            label: "Delete",
            danger: true,
            disabled: !stored,
            onClick: withPlan(({ id, version, document }) => {
              if (id === undefined || version === undefined) return;
              void file.remove({ id, version, document }).then((gone) => {
                if (gone) file.startNew();
              });
            }),
          },
        ]}
      >
        <Button size="small" aria-label="More with this plan">
          More
        </Button>
      </PressMenu>
    </>
  );
});
