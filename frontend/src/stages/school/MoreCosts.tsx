import { useState } from "react";

import { Button } from "../../kit/Button";
import { Problem } from "../../kit/Problem";
import { SearchStanding } from "./SearchStanding";
import { useMore } from "./useAdvice";

const DESIGNING = "Designing anew for more space, people, safety, quiet …";

/** What a little more would cost; some whole searches, so it is asked for. */
export function MoreCosts() {
  const [isAsked, ask] = useState(false);
  const answer = useMore(isAsked);
  if (!isAsked)
    return (
      <p className="mt-3">
        <Button look="text" onClick={() => ask(true)}>
          What would a little more cost
        </Button>
      </p>
    );
  return (
    <>
      <h3 className="mt-3">A little more</h3>
      {!answer.data && !answer.error && <SearchStanding search={answer.search} words={DESIGNING} />}
      <Problem of={answer.error} />
      <ul>
        {answer.data?.map((more) => (
          <li key={more.words} className="border-b border-base-300 py-1">
            {more.sentence}
          </li>
        ))}
      </ul>
    </>
  );
}
