import { beamAngle, type Verdict } from "./beam";

/** The verdict's glyph: need in the hollow pan, what we have in the filled one; the tilt is computed.
 * An open one has nothing to weigh yet: a dashed beam at rest under two empty pans. */
export function Beam({
  verdict,
  ratio,
  size = 64,
}: {
  verdict: Verdict;
  ratio: number | null;
  size?: number;
}) {
  const isOpen = verdict === "open";
  const angle = isOpen ? 0 : beamAngle(ratio);
  return (
    <svg
      className={`state-${verdict} shrink-0`}
      width={size}
      height={size * 0.62}
      viewBox="0 0 64 40"
      aria-hidden="true"
    >
      <path d="M32 23 L25.5 37 H38.5 Z" fill="none" className="ink" strokeWidth="1.5" />
      <g transform={`rotate(${angle} 32 22)`} stroke="currentColor" strokeWidth="2.4">
        <path d="M5 22 H59" fill="none" strokeDasharray={isOpen ? "5 4" : undefined} />
        <rect x="5" y="10.5" width="10" height="10" fill="none" />
        <rect x="47" y="8.5" width="12" height="12" fill={isOpen ? "none" : "currentColor"} />
      </g>
    </svg>
  );
}
