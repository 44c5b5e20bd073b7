import type { RefObject } from "react";
import type { CurvePoint, Schemas } from "../../api/client";
import { download, fileName } from "../download";
import { useFeedback } from "../feedback";
import { asPng, curveCsv, standAlone } from "./export";
import { PressMenu } from "../PressMenu";

interface Props {
  name: string | null | undefined;
  curve: CurvePoint[];
  stages: Schemas["StageDoc"][];
  /** Where the drawing is; none while the table is shown. */
  plot: RefObject<HTMLDivElement | null>;
}

/** The curve to take away: as numbers, as a drawing, as a picture. */
export function ExportMenu({ name, curve, stages, plot }: Props) {
  const feedback = useFeedback();
  const drawing = () => plot.current?.querySelector("svg") ?? undefined;
  const asSvg = () => {
    const svg = drawing();
    if (svg) download(fileName(name, "svg"), new Blob([standAlone(svg)], { type: "image/svg+xml" }));
  };
  const asPicture = async () => {
    const svg = drawing();
    if (!svg) return;
    const { width, height } = svg.getBoundingClientRect();
    download(fileName(name, "png"), await asPng(standAlone(svg), width, height));
  };
  return (
    <PressMenu
      items={[
        {
          key: "csv",
          label: "CSV",
          onClick: () => {
            download(fileName(name, "csv"), new Blob([curveCsv(curve, stages)], { type: "text/csv" }));
          },
        },
        { key: "svg", label: "SVG", onClick: asSvg },
        { key: "png", label: "PNG", onClick: () => void asPicture().catch(feedback.failed) },
      ]}
    >
      <button type="button" className="plain-button link">
        Export
      </button>
    </PressMenu>
  );
}
