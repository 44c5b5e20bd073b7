import type { CurvePoint, Schemas } from "../../api/client";

/** The curve as CSV, under the names the result format uses. */
export function curveCsv(curve: readonly CurvePoint[], stages: readonly Schemas["StageDoc"][]): string {
  const head = ["t_s", "pack_v", "current_a", "power_w", "soc", "limit", ...stages.map((stage) => `${stage.at}_a`)];
  const rows = curve.map((p) => [p.t_s, p.pack_v, p.current_a, p.power_w, p.soc, p.limit, ...p.stage_a]);
  return `${[head, ...rows].map((row) => row.join(",")).join("\n")}\n`;
}

/** What the page's styles decide about a drawing, as attributes of its own. */
const KEPT = ["fill", "stroke", "stroke-width", "stroke-dasharray", "stroke-linecap", "font-family", "font-size", "font-weight", "text-anchor", "dominant-baseline"];

/** A drawing that stands by itself: the page's styles turned into attributes, on the page's paper. */
export function standAlone(drawing: SVGSVGElement): string {
  const copy = drawing.cloneNode(true) as SVGSVGElement;
  const originals = [drawing, ...drawing.querySelectorAll("*")];
  const copies = [copy, ...copy.querySelectorAll("*")];
  copies.forEach((element, k) => {
    const original = originals[k];
    if (!original) return;
    const style = getComputedStyle(original);
    for (const name of KEPT) {
      const value = style.getPropertyValue(name);
      // A pattern's address is written absolute by the browser; inside the file it is local.
      if (value) element.setAttribute(name, value.replace(/url\("?[^")]*#([^")]+)"?\)/, "url(#$1)"));
    }
    element.removeAttribute("class");
  });
  const { width, height } = drawing.getBoundingClientRect();
  const paper = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  paper.setAttribute("width", "100%");
  paper.setAttribute("height", "100%");
  paper.setAttribute("fill", getComputedStyle(document.body).backgroundColor);
  copy.prepend(paper);
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("viewBox", `0 0 ${width} ${height}`);
  return new XMLSerializer().serializeToString(copy);
}

/** The same as pixels, twice as many as on screen. */
export async function asPng(svg: string, width: number, height: number): Promise<Blob> {
  const url = URL.createObjectURL(new Blob([svg], { type: "image/svg+xml" }));
  try {
    const image = new Image();
    image.src = url;
    await image.decode();
    const canvas = document.createElement("canvas");
    canvas.width = 2 * width;
    canvas.height = 2 * height;
    canvas.getContext("2d")?.drawImage(image, 0, 0, canvas.width, canvas.height);
    const blob = await new Promise<Blob | null>((done) => {
      canvas.toBlob(done, "image/png");
    });
    if (!blob) throw new Error("The browser could not draw the picture.");
    return blob;
  } finally {
    URL.revokeObjectURL(url);
  }
}
