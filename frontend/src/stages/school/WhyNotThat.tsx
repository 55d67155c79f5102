import { useState } from "react";

import type { Offered } from "../../api/client";
import { Button } from "../../kit/Button";
import { Offer } from "../../kit/Input";
import { Problem } from "../../kit/Problem";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { SearchStanding } from "./SearchStanding";
import { useOffer, useOpenDesign, useWhyNot } from "./useAdvice";

const KINDS: readonly { kind: Offered["kind"]; words: string }[] = [
  { kind: "layout", words: "A layout …" },
  { kind: "box", words: "A box …" },
  { kind: "drive", words: "A drive …" },
  { kind: "network", words: "A network …" },
];

const DESIGNING = "Designing with it …";

/** Whatever one points at: what it would save, and what it would miss. */
export function WhyNotThat() {
  const [of, point] = useState("");
  const offer = useOffer();
  return (
    <>
      <h3 className="mt-4">Why not …</h3>
      <div className="flex flex-wrap gap-2">
        {KINDS.map(({ kind, words }) => (
          <Offer
            key={kind}
            className="max-w-48"
            label={words.replace(" …", "")}
            words={words}
            from={(offer.data?.items ?? [])
              .filter((each) => each.kind === kind)
              .map((each) => ({ id: each.id, name: each.words }))}
            onChoose={point}
          />
        ))}
      </div>
      {of && <Answer of={of} />}
    </>
  );
}

function Answer({ of }: { of: string }) {
  const { mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  const answer = useWhyNot(of);
  const { goTo, open } = useOpenDesign();
  if (answer.error) return <Problem of={answer.error} />;
  if (!answer.data) return <SearchStanding search={answer.search} words={DESIGNING} />;
  const { design, words, sentence } = answer.data;
  return (
    <div className="mt-2" role="status">
      <b className="font-semibold">{words}.</b> {sentence}
      {design && mayWrite && (
        <Button
          look="text"
          className="ml-2"
          disabled={open.isPending}
          onClick={() => goTo(design, `${document.plan.name}, with ${words}`.slice(0, 80))}
        >
          Open it as a plan
        </Button>
      )}
    </div>
  );
}
