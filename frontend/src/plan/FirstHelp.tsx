import { Button } from "../kit/Button";
import { usePlanTools, useSnapshot } from "./context";

const EDGE = { block: "border-error", warn: "border-warning", note: "border-success" } as const;

/** The gravest finding of a stage, which opens what would help. */
export function FirstHelp({ stage }: { stage: string }) {
  const { evaluation } = useSnapshot();
  const { showFinding } = usePlanTools();
  const first = evaluation.findings.find((f) => f.stage === stage && !f.accepted_reason);
  if (!first) return null;
  return (
    <p className={`mt-3 border-l-4 ${EDGE[first.severity]} pl-3`}>
      <b className="font-semibold">{first.title}.</b> {first.remedy.words.replace(/\.$/, "")}.{" "}
      <Button look="text" onClick={() => showFinding(first.key)}>
        Look at it
      </Button>
    </p>
  );
}
