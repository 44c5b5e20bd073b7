/** What to do when it smokes or burns: one press away wherever a charge is planned or under way. */
export function Emergency({ said }: { said: readonly string[] | undefined }) {
  if (!said || said.length === 0) return null;
  return (
    <details className="emergency">
      <summary>If it smokes, hisses or burns</summary>
      <ol>
        {said.map((one) => (
          <li key={one}>{one}</li>
        ))}
      </ol>
    </details>
  );
}
