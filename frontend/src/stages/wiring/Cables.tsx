import { client, type Cable } from "../../api/client";
import { Button, LINK } from "../../kit/Button";
import { Cautions } from "../../kit/Cautions";
import { Behind } from "../../kit/Fold";
import { Problem } from "../../kit/Problem";
import { Heads, Table } from "../../kit/Table";
import { usePlanTools } from "../../plan/context";
import { useAsked } from "../../plan/useAsked";

/** The cables to pull, with what is written on both ends of each. */
export function Cables() {
  return (
    <Behind lazy className="mt-5" title="Cables and labels">
      <List />
    </Behind>
  );
}

function List() {
  const { studio, planId } = usePlanTools();
  const answer = useAsked<Cable[]>(["cables"], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/cables", { params, body: question }),
  );
  if (answer.isError) return <Problem of={answer.error} />;
  if (!answer.data) return <p className="faint">Listing …</p>;
  return (
    <div className="print-alone">
      <p className="no-print flex gap-4">
        <Button look="text" onClick={() => window.print()}>
          Print the list
        </Button>
        <a className={LINK} href={`/api/studios/${studio}/plans/${planId}/cables.csv`}>
          As CSV, as last saved
        </a>
      </p>
      <Table aria-label="Cables">
        <Heads of={["Label", "From", "#Port", "To", "#Port there", "Speed", "Cable", "#Length"]} />
        <tbody>
          {answer.data.map((cable) => (
            <tr key={cable.label}>
              <td className="font-semibold">{cable.label}</td>
              <td>{cable.near}</td>
              <td className="num">{cable.near_port}</td>
              <td>{cable.far}</td>
              <td className="num">{cable.far_port}</td>
              <td>{cable.speed}</td>
              <td>{cable.category === "unsaid" ? "" : cable.category}</td>
              <td className="num">{cable.length_m ? `${cable.length_m} m` : ""}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <Cautions of={["cabling"]} />
    </div>
  );
}
