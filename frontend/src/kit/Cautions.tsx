/** The usual cautions, where the work is. */
export function Cautions({ of }: { of: readonly string[] }) {
  if (of.length === 0) return null;
  return (
    <ul className="caution mt-2 text-sm" aria-label="Cautions">
      {of.map((each) => (
        <li key={each}>{each}</li>
      ))}
    </ul>
  );
}
