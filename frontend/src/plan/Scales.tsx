import { usePlanTools, useSnapshot } from "./context";
import type { Scale } from "../api/client";
import { Beam } from "../kit/Beam";
import { moneyText, rateNumber, sizeText } from "../kit/format";
import { Button } from "../kit/Button";

const NAMES = ["speed", "space", "safety", "money"] as const;
type ScaleName = (typeof NAMES)[number];
const TITLES: Record<ScaleName, string> = {
  speed: "Speed",
  space: "Space",
  safety: "Safety",
  money: "Money",
};

function headline(scale: Scale, currency: string): string {
  switch (scale.measure) {
    case "bytes_per_s":
      return scale.need > 0
        ? `${rateNumber(scale.have)} for ${rateNumber(scale.need)} MB/s`
        : "nothing asked yet";
    case "files_per_s":
      return `${scale.have.toFixed(1)} for ${scale.need.toFixed(1)} files a second`;
    case "bytes":
      return `${sizeText(scale.have)} for ${sizeText(scale.need)}`;
    case "drives":
      return `survives ${scale.have} ${scale.have === 1 ? "drive" : "drives"}, ${scale.need} wanted`;
    default:
      return `${moneyText(scale.need, currency)} of ${moneyText(scale.have, currency)}`;
  }
}

/** The strip that never leaves the screen: four verdicts, each opening its working. */
export function ScalesStrip() {
  const { evaluation, document } = useSnapshot();
  const { explain } = usePlanTools();
  return (
    <ul className="grid grid-cols-4" aria-label="The scales">
      {NAMES.map((name) => {
        const scale = evaluation.scales[name];
        const isPriced = name === "money" && scale.verdict !== "open";
        const perTb = isPriced ? evaluation.money.per_plannable_tb : null;
        const because = perTb
          ? `${moneyText(perTb, document.currency)} per plannable TB`
          : scale.because;
        return (
          <li key={name} className="border-l border-base-300 first:border-l-0">
            <Button
              look="drawn"
              className="flex h-full w-full flex-col items-center gap-x-3 px-2 py-2 text-center md:flex-row md:px-3 md:text-left hover:bg-base-200"
              onClick={() => explain(`scales.${name}`)}
              data-testid={`scale-${name}`}
            >
              <Beam verdict={scale.verdict} ratio={scale.ratio ?? null} />
              <span className="min-w-0">
                <span className="block">
                  <b className="font-semibold">{TITLES[name]}</b>{" "}
                  <span className={`state-${scale.verdict} block font-semibold md:ml-1 md:inline`}>
                    {scale.verdict}
                  </span>
                </span>
                <span className="wide-only block truncate text-[1.08rem] font-semibold">
                  {headline(scale, document.currency)}
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
            </Button>
          </li>
        );
      })}
    </ul>
  );
}
