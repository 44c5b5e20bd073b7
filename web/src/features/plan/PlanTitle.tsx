import { Button, Input, Segmented } from "antd";
import type { ReactNode } from "react";
import { useNavigate } from "react-router";
import type { PlanDoc, Schemas } from "../../api/client";
import { type Editor, textAt } from "../../ui/documents/editor";
import { QuantityField } from "../../ui/documents/fields";
import { PRACTICES, practiceWords } from "../../ui/documents/practices";
import { download, fileName } from "../../ui/download";
import { StepButtons } from "../../ui/StepButtons";
import { changeDraft, type Draft, isChanged, step, steps } from "./draft";
import { useShare } from "./useShare";
import type { usePlanFile } from "./usePlanFile";
import { PressMenu } from "../../ui/PressMenu";

interface Props {
  draft: Draft;
  editor: Editor<PlanDoc>;
  file: ReturnType<typeof usePlanFile>;
  onPlans: () => void;
  onImport: () => void;
  summary: ReactNode;
}

/** What the plan is called, how hard it charges, and its file. */
export function PlanTitle({ draft, editor, file, onPlans, onImport, summary }: Props) {
  const changed = isChanged(draft);
  const share = useShare(draft);
  const navigate = useNavigate();
  const practice = (textAt(editor.document, "/practice") ?? textAt(editor.resolved, "/practice")) as Schemas["Practice"];
  const chemistry = draft.document.pack?.chemistry;
  const figures = practiceWords(chemistry, practice);
  return (
    <div className="plan-title">
      <h1 className="unseen">Plan</h1>
      <Input
        className="plan-name"
        variant="borderless"
        value={draft.document.name ?? ""}
        maxLength={120}
        placeholder="Name this plan"
        aria-label="Name of the plan"
        autoComplete="off"
        onChange={(event) => {
          changeDraft("/name", event.target.value === "" ? undefined : event.target.value);
        }}
      />
      {summary}
      <div className="plan-practice">
        <span className="plan-figures muted" title="Where no label says otherwise">
          {figures ?? "practice"}
        </span>
        <Segmented<Schemas["Practice"]>
          size="small"
          aria-label="Practice"
          options={PRACTICES.map(({ value, label }) => ({ value, label, title: practiceWords(chemistry, value) ?? label }))}
          value={practice}
          onChange={(practice) => {
            changeDraft("/practice", practice);
          }}
        />
      </div>
      <QuantityField editor={editor} at="/ambient_c" label="Air temperature" kind="temperature" bare />
      <span className="plan-file">
        <StepButtons steps={steps} of={draft.document.name ?? "this plan"} go={step} />
        <Button size="small" type="primary" loading={file.saving} disabled={!changed} onClick={() => void file.save(draft)}>
          {changed ? "Save" : "Saved"}
        </Button>
        <Button size="small" onClick={onPlans}>
          Plans
        </Button>
        <PressMenu
          items={[
            { key: "new", label: "New plan", onClick: file.startNew },
            {
              key: "copy",
              label: "Duplicate",
              onClick: () => {
                file.duplicate(draft);
              },
            },
            { key: "compare", label: "Compare with other chains", onClick: () => void navigate("/compare") },
            { key: "link", label: "Copy a link to it", onClick: () => void share.link() },
            { key: "line", label: "Copy as a quick line", onClick: () => void share.line() },
            {
              key: "export",
              label: "Export as a file",
              onClick: () => {
                const text = `${JSON.stringify(draft.document, null, 2)}\n`;
                download(fileName(draft.document.name, "json"), new Blob([text], { type: "application/json" }));
              },
            },
            { key: "import", label: "Open a file", onClick: onImport },
            {
              key: "delete",
              label: "Delete",
              danger: true,
              disabled: draft.id === undefined,
              onClick: () => {
                const { id, version, document } = draft;
                if (id === undefined || version === undefined) return;
                void file.remove({ id, version, document }).then((gone) => {
                  if (gone) file.startNew();
                });
              },
            },
          ]}
        >
          <Button size="small" aria-label="More with this plan">
            More
          </Button>
        </PressMenu>
      </span>
    </div>
  );
}
