/**
 * Hatches for drawings, so that nothing rests on colour: copper for redundancy, ink for overhead, plum for what is missed.
 * They stand once in the page and are always rendered: a pattern inside a folded part would draw nothing.
 */
export function Hatches() {
  return (
    <svg width="0" height="0" className="absolute" aria-hidden="true">
      <defs>
        <Hatch id="hatch-copper" apart={9} className="stroke-secondary stroke-[3]" />
        <Hatch id="hatch-plum" apart={6} className="stroke-error stroke-2" />
        <Hatch id="hatch-ink" apart={7} className="stroke-base-content/60 stroke-[1.5]" />
      </defs>
    </svg>
  );
}

function Hatch({ id, apart, className }: { id: string; apart: number; className: string }) {
  return (
    <pattern
      id={id}
      width={apart}
      height={apart}
      patternUnits="userSpaceOnUse"
      patternTransform="rotate(45)"
    >
      <path d={`M0 0 V${apart}`} className={className} />
    </pattern>
  );
}
