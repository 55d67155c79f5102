import type { Evaluation, Scale } from "../api/client";
import { Beam } from "../kit/Beam";
import { Button } from "../kit/Button";
import { headline, SCALES, type ScaleName } from "./scaleWords";

/** Four verdicts beside each other, each opening its working where there is one. */
export function ScaleStrip({
  scales,
  currency,
  because = {},
  onOpen,
}: {
  scales: Evaluation["scales"];
  currency: string;
  /** What is said in place of a scale's own reason. */
  because?: Partial<Record<ScaleName, string>>;
  onOpen?: (name: ScaleName) => void;
}) {
  return (
    <ul className="grid grid-cols-4" aria-label="The scales">
      {SCALES.map(([name, title]) => {
        const told = (
          <Told title={title} scale={scales[name]} currency={currency} because={because[name]} />
        );
        const look =
          "flex h-full w-full flex-col items-center gap-x-3 px-2 py-2 text-center md:flex-row md:px-3 md:text-left";
        return (
          <li key={name} className="border-l border-base-300 first:border-l-0">
            {onOpen ? (
              <Button
                look="drawn"
                className={`${look} hover:bg-base-200`}
                onClick={() => onOpen(name)}
                data-testid={`scale-${name}`}
              >
                {told}
              </Button>
            ) : (
              <div className={look} data-testid={`scale-${name}`}>
                {told}
              </div>
            )}
          </li>
        );
      })}
    </ul>
  );
}

function Told({
  title,
  scale,
  currency,
  because = scale.because,
}: {
  title: string;
  scale: Scale;
  currency: string;
  because?: string | undefined;
}) {
  return (
    <>
      <Beam verdict={scale.verdict} ratio={scale.ratio ?? null} />
      <span className="min-w-0">
        <span className="block">
          <b className="font-semibold">{title}</b>{" "}
          <span className={`state-${scale.verdict} block font-semibold md:ml-1 md:inline`}>
            {scale.verdict}
          </span>
        </span>
        <span className="wide-only block truncate text-[1.08rem] font-semibold">
          {headline(scale, currency)}
        </span>
        <span
          className={`wide-only faint text-[0.86rem] leading-tight md:text-left ${scale.beside ? "line-clamp-1" : "line-clamp-2"}`}
          title={because}
        >
          {because}
        </span>
        {scale.beside && (
          <span className="wide-only line-clamp-1 text-[0.86rem] leading-tight font-semibold md:text-left">
            {scale.beside}
          </span>
        )}
      </span>
    </>
  );
}
