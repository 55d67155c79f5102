import cautions from "../generated/cautions.json";

type Work = keyof typeof cautions;

/** The usual cautions, where the work is. */
export function Cautions({ of }: { of: readonly Work[] }) {
  return (
    <ul className="caution mt-2 text-sm" aria-label="Cautions">
      {of
        .flatMap((work) => cautions[work])
        .map((each) => (
          <li key={each}>{each}</li>
        ))}
    </ul>
  );
}
