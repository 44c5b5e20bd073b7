import { encode } from "uqr";

interface Props {
  id: string;
  name: string;
  words: string;
  health: string | undefined;
  at: string;
}

/** Light around a code, in modules: readers want four. */
const QUIET = 4;

/** What is printed and stuck onto the pack: its name, what it is, and the way to this page. */
export function PackLabel({ id, name, words, health, at }: Props) {
  const address = `${window.location.origin}/shelf/${id}`;
  const { data, size } = encode(address, { border: QUIET });
  const modules = data.flatMap((row, y) => row.flatMap((dark, x) => (dark ? [`M${x},${y}h1v1h-1z`] : []))).join("");
  return (
    <aside className="pack-label" aria-label="Its label">
      <svg width="148" height="148" viewBox={`0 0 ${size} ${size}`} role="img" aria-label={`QR code of ${address}`} shapeRendering="crispEdges">
        <path className="code-light" d={`M0,0h${size}v${size}h-${size}z`} />
        <path className="code-dark" d={modules} />
      </svg>
      <div>
        <h2>{name}</h2>
        <p>{words}</p>
        {health && (
          <p>
            {health} of its label, {at}
          </p>
        )}
        <p className="pack-address">{address}</p>
      </div>
    </aside>
  );
}
