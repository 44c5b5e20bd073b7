import type { PlanDoc } from "../../api/client";

/** What begins a link's fragment that carries a whole plan. */
const MARK = "plan=";

const stream = async (bytes: BodyInit, through: CompressionStream | DecompressionStream) =>
  new Uint8Array(await new Response(new Response(bytes).body?.pipeThrough(through)).arrayBuffer());

/** A link that opens this plan as a draft, wherever Rumek runs: the document itself, compressed, in the fragment. */
export async function linkOf(document: PlanDoc, origin: string): Promise<string> {
  const packed = await stream(JSON.stringify(document), new CompressionStream("deflate-raw"));
  const text = btoa(String.fromCharCode(...packed)).replaceAll("+", "-").replaceAll("/", "_").replace(/=+$/, "");
  return `${origin}/plan#${MARK}${text}`;
}

/** Whether a fragment means to carry a plan: another may be there for other reasons. */
export const carriesPlan = (fragment: string) => fragment.startsWith(`#${MARK}`);

/** The plan that a fragment carries; `undefined` where it is damaged. */
export async function planOfFragment(fragment: string): Promise<PlanDoc | undefined> {
  try {
    const text = atob(fragment.slice(MARK.length + 1).replaceAll("-", "+").replaceAll("_", "/"));
    const bytes = Uint8Array.from(text, (c) => c.charCodeAt(0));
    const document = JSON.parse(new TextDecoder().decode(await stream(bytes, new DecompressionStream("deflate-raw")))) as PlanDoc;
    return document.format === "rumek.plan/1" ? document : undefined;
  } catch {
    return undefined;
  }
}
