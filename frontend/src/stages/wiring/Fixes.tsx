import { client, type SeatChanges } from "../../api/client";
import { Button } from "../../kit/Button";
import { Behind } from "../../kit/Fold";
import { moneyText, ratioText } from "../../kit/format";
import { Problem } from "../../kit/Problem";
import { Heads, Table } from "../../kit/Table";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { useAsked } from "../../plan/useAsked";

type Change = SeatChanges["changes"][number];

/** What would fix one seat: every single change is tried, the cheapest that does comes first. */
export function Fixes({ seatId }: { seatId: string }) {
  const answer = useAsked<SeatChanges>(["fixes", seatId], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/fixes", {
      params,
      body: { ...question, seat_id: seatId },
    }),
  );
  if (answer.isError) return <Problem of={answer.error} />;
  if (!answer.data) return <p className="faint mt-3">Trying every single change …</p>;
  return <Found found={answer.data} />;
}

function Found({ found }: { found: SeatChanges }) {
  const now = found.ratio === null ? "" : `, now ${ratioText(found.ratio)}`;
  return (
    <section className="mt-5" aria-label="What would fix it">
      <h2>What would help {found.name}</h2>
      <p className="faint">
        {found.limiting_name ? `${found.limiting_name} holds it back${now}. ` : ""}
        {found.tried} single changes tried; the cheapest that is enough comes first.
      </p>
      {found.changes.length > 0 ? (
        <Table aria-label={`Changes that help ${found.name}`}>
          <Heads of={["Change", `#${found.name}`, "#Whole plan", "#Costs", "-Take it"]} />
          <tbody>
            {found.changes.map((change) => (
              <OneChange key={change.words} change={change} />
            ))}
          </tbody>
        </Table>
      ) : (
        <p className="mt-1">No single change helps.</p>
      )}
      {found.in_vain.length > 0 && (
        <Behind className="text-sm" title={`${found.in_vain.length} that do not help`}>
          <ul className="faint pl-4">
            {found.in_vain.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        </Behind>
      )}
    </section>
  );
}

function OneChange({ change }: { change: Change }) {
  const { session, mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  return (
    <tr className={change.fixes ? "font-semibold" : ""}>
      <td>{change.words}</td>
      <td className="num">{change.ratio === null ? "–" : ratioText(change.ratio)}</td>
      <td className="num">{change.plan_ratio === null ? "–" : ratioText(change.plan_ratio)}</td>
      <td className="num">
        {change.price === null ? "no price" : moneyText(change.price, document.currency)}
      </td>
      <td className="num font-normal">
        {mayWrite && (
          <Button look="text" onClick={() => session.change(...change.patch)}>
            Take it<span className="sr-only">: {change.words}</span>
          </Button>
        )}
      </td>
    </tr>
  );
}
