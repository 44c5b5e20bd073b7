import { renderSVG } from "uqr";

interface Props {
  id: string;
  name: string;
  words: string;
  health: string | undefined;
  at: string;
}

/** What is printed and stuck onto the pack: its name, what it is, and the way to this page. */
export function PackLabel({ id, name, words, health, at }: Props) {
  const address = `${window.location.origin}/shelf/${id}`;
  const code = `data:image/svg+xml,${encodeURIComponent(renderSVG(address, { border: 2 }))}`;
  return (
    <aside className="pack-label" aria-label="Its label">
      <img src={code} width="132" height="132" alt={`QR code of ${address}`} />
      <div>
        <h2>{name}</h2>
        <p>{words}</p>
        {health && (
          <p>
            {health} of its label, {at}
          </p>
        )}
        <p className="muted pack-address">{address}</p>
      </div>
    </aside>
  );
}
