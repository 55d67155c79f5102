/**
 * Hatches for drawings, so that nothing rests on colour: copper for redundancy, ink for overhead.
 * They stand once in the page and are always rendered: a pattern inside a folded part would draw nothing.
 */
export function Hatches() {
  return (
    <svg width="0" height="0" className="absolute" aria-hidden="true">
      <defs>
        <pattern
          id="hatch-copper"
          width="9"
          height="9"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <path d="M0 0 V9" className="stroke-secondary stroke-[3]" />
        </pattern>
        <pattern
          id="hatch-plum"
          width="6"
          height="6"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <path d="M0 0 V6" className="stroke-error stroke-2" />
        </pattern>
        <pattern
          id="hatch-ink"
          width="7"
          height="7"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <path d="M0 0 V7" className="stroke-base-content/60 stroke-[1.5]" />
        </pattern>
      </defs>
    </svg>
  );
}
