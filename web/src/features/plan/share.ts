import type { PlanDoc } from "../../api/client";
import { isPlan } from "./kept";

/** What begins a link's fragment that carries a whole plan. */
const MARK = "plan=";

/** A plan is never longer than this; a link may claim to be, and is not unpacked any further. */
const MOST_BYTES = 4_000_000;

/** Lets pieces through until they are more than a plan can be. */
function bounded() {
  let length = 0;
  return new TransformStream<Uint8Array, Uint8Array>({
    transform(piece, out) {
      length += piece.length;
      if (length > MOST_BYTES) throw new Error("more than a plan can be");
      out.enqueue(piece);
    },
  });
}

const stream = async (bytes: BodyInit, through: CompressionStream | DecompressionStream) =>
  new Uint8Array(await new Response(new Response(bytes).body?.pipeThrough(through).pipeThrough(bounded())).arrayBuffer());

/** A link that opens this plan as a draft, wherever Rumek runs: the document itself, compressed, in the fragment. */
export async function linkOf(document: PlanDoc, origin: string): Promise<string> {
  const packed = await stream(JSON.stringify(document), new CompressionStream("deflate-raw"));
  const text = btoa(String.fromCharCode(...packed)).replaceAll("+", "-").replaceAll("/", "_").replace(/=+$/, "");
  return `${origin}/plan#${MARK}${text}`;
}

/** Whether a fragment means to carry a plan: another may be there for other reasons. */
export const carriesPlan = (fragment: string) => fragment.startsWith(`#${MARK}`);

/** The plan that a fragment carries; `undefined` where it is damaged or no plan. */
export async function planOfFragment(fragment: string): Promise<PlanDoc | undefined> {
  try {
    const text = atob(fragment.slice(MARK.length + 1).replaceAll("-", "+").replaceAll("_", "/"));
    const bytes = Uint8Array.from(text, (c) => c.charCodeAt(0));
    const document: unknown = JSON.parse(new TextDecoder().decode(await stream(bytes, new DecompressionStream("deflate-raw"))));
    return isPlan(document) ? document : undefined;
  } catch {
    return undefined;
  }
}
