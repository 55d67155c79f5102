import type { Stock } from "../../api/client";
import { sizeText } from "../../kit/format";
import { Button } from "../../kit/Button";

const SHOWN = 6;

/** Sole copies, the oldest, sickest and dearest first. */
export function Rescue({
  steps,
  onOpen,
}: {
  steps: Stock["result"]["rescue"];
  onOpen: (id: string) => void;
}) {
  if (!steps.length) return null;
  return (
    <>
      <h2 className="mt-5">Rescue first</h2>
      <p className="faint">Copies that exist only once, by age, health and worth.</p>
      <ol className="mt-1">
        {steps.slice(0, SHOWN).map((step, index) => (
          <li key={step.id} className="border-b border-base-300 py-1">
            <span className="flex items-baseline justify-between gap-3">
              <Button look="text" onClick={() => onOpen(step.id)}>
                {index + 1}. {step.label}
              </Button>
              <b className="font-semibold whitespace-nowrap">{sizeText(step.bytes)}</b>
            </span>
            {step.advice !== steps[index - 1]?.advice && (
              <span className="faint text-sm">{step.advice}</span>
            )}
          </li>
        ))}
      </ol>
      {steps.length > SHOWN && (
        <p className="faint text-sm">and {steps.length - SHOWN} more with sole copies</p>
      )}
    </>
  );
}
