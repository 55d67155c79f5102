import { useState } from "react";

import type { Disagreement } from "../../api/client";
import { Button } from "../../kit/Button";
import { moneyText, sizeText } from "../../kit/format";
import { Waiting } from "../../kit/Notice";
import { Problem } from "../../kit/Problem";
import { Table } from "../../kit/Table";
import { usePlanTools } from "../../plan/context";
import { useDisagreements } from "./useAdvice";

type Side = Disagreement["left"];

/** Every open question with both sides' numbers; whoever asks settles it. */
export function Disagreements({ hangsOn }: { hangsOn: string }) {
  const answer = useDisagreements(hangsOn);
  const [chosen, choose] = useState("");
  if (!answer.data)
    return answer.error ? (
      <Problem of={answer.error} />
    ) : (
      <Waiting className="mt-2">Trying both sides of every question …</Waiting>
    );
  const one = answer.data.find((each) => each.id === chosen) ?? answer.data[0];
  return (
    <div className="mt-2 grid gap-4 md:grid-cols-[13rem_minmax(0,1fr)]">
      <ul aria-label="Questions">
        {answer.data.map((each) => (
          <li key={each.id} className="border-b border-base-300 py-0.5">
            <Button
              look="text"
              aria-pressed={each.id === one?.id}
              className={`text-left ${each.id === one?.id ? "font-semibold" : ""}`}
              onClick={() => choose(each.id)}
            >
              {each.question}
            </Button>
          </li>
        ))}
      </ul>
      {one && (
        <section aria-label={one.question}>
          <h3>{one.question}</h3>
          <p className="faint text-sm">
            Practitioners disagree. Both columns are this plan, judged as it would be then.
          </p>
          <div className="mt-2 grid gap-5 sm:grid-cols-2">
            <OneSide side={one.left} />
            <OneSide side={one.right} />
          </div>
        </section>
      )}
    </div>
  );
}

function OneSide({ side }: { side: Side }) {
  const { session, mayWrite } = usePlanTools();
  const { measured } = side;
  return (
    <div>
      <h4 className="text-[1.05rem] font-semibold">
        {side.name}
        {side.is_now && <span className="faint ml-2 text-sm font-normal">as it is now</span>}
      </h4>
      <p>{side.argument}</p>
      {side.why_not && <p className="faint mt-1">{side.why_not}</p>}
      {measured && (
        <Table aria-label={side.name} className="mt-1">
          <tbody>
            {side.figures.map(({ what, said }) => (
              <tr key={`${what} ${said}`}>
                <td>{what}</td>
                <td className="whitespace-normal text-right">{said}</td>
              </tr>
            ))}
            <Line what="Plannable" said={sizeText(measured.plannable_bytes)} />
            <Line
              what="Speed"
              said={measured.speed_ratio === null ? "–" : `×${measured.speed_ratio?.toFixed(2)}`}
            />
            <Line
              what="Five years"
              said={moneyText(Math.round(Number(measured.five_years)), measured.currency)}
            />
            <Line what="Block or warn" said={`${measured.blocks + measured.warnings} findings`} />
          </tbody>
        </Table>
      )}
      {mayWrite && side.patch.length > 0 && (
        <Button look="text" onClick={() => session.change(...side.patch)}>
          Settle it so<span className="sr-only"> ({side.name})</span>
        </Button>
      )}
    </div>
  );
}

const Line = ({ what, said }: { what: string; said: string }) => (
  <tr>
    <td>{what}</td>
    <td className="text-right">{said}</td>
  </tr>
);
