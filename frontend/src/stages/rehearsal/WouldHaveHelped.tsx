import { Button } from "../../kit/Button";
import { Waiting } from "../../kit/Notice";
import { Heads, Table } from "../../kit/Table";
import { usePlanTools } from "../../plan/context";
import { useHelped, type Fails } from "./useDay";

const minutes = (seconds: number) => `${Math.round(seconds / 60)} min`;

/** The same day with single changes, each tried; the best first. */
export function WouldHaveHelped({ fails }: { fails: Fails }) {
  const { session, mayWrite } = usePlanTools();
  const helped = useHelped(fails);
  return (
    <>
      <h3 className="mt-5">What would have helped most</h3>
      {helped.isPending && <Waiting>Trying …</Waiting>}
      {helped.data?.length === 0 && (
        <p className="faint">
          No single change of wires, homes, footage, jobs or caches that was tried.
        </p>
      )}
      {helped.data && helped.data.length > 0 && (
        <Table>
          <Heads
            of={["The same day with", "#Unwatchable", "#Late", ...(mayWrite ? ["-Take"] : [])]}
          />
          <tbody>
            {helped.data.map((each) => (
              <tr key={each.words}>
                <td>{each.words}</td>
                <td className="num">{minutes(each.unwatchable_s)}</td>
                <td className="num">{minutes(each.late_s)}</td>
                {mayWrite && (
                  <td>
                    <Button look="text" onClick={() => session.change(...each.patch)}>
                      Take it<span className="sr-only">: {each.words}</span>
                    </Button>
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </Table>
      )}
    </>
  );
}
