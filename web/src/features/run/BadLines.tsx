import type { Schemas } from "../../api/client";

/** Lines of a file that cannot be read, as an editor counts them. */
export function BadLines({ title, bad, open = false }: { title: string; bad: readonly Schemas["BadLineDoc"][]; open?: boolean }) {
  if (bad.length === 0) return null;
  return (
    <details className="bad-lines" open={open}>
      <summary>{title}</summary>
      <ul>
        {bad.map(({ line, message }) => (
          <li key={`${line} ${message}`}>
            {line > 0 && <span className="figures">line {line}</span>} {message}
          </li>
        ))}
      </ul>
    </details>
  );
}
