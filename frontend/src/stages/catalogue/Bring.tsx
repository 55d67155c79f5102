import { client, dataOf, type CatalogueList, type Operation } from "../../api/client";
import { counted } from "../../kit/format";
import { usePlans } from "../../studio/usePlans";
import { BringCsv } from "../../plan/BringCsv";
import { usePlanTools } from "../../plan/context";
import { useTaken } from "../../plan/useTaken";
import { Button, LINK } from "../../kit/Button";
import { Offer } from "../../kit/Input";
import { Problem } from "../../kit/Problem";

interface Read {
  listing: CatalogueList;
  added: number;
  replaced: number;
  patch: readonly Operation[];
}

/** Classes and prices from a CSV, from another plan or from the generic ones, and a list as CSV. */
export function Bring({ list }: { list: CatalogueList }) {
  const { session, studio, planId, mayWrite } = usePlanTools();
  const { problem, take } = useTaken();
  const { rows: plans = [] } = usePlans(studio, true);
  const bring = (from: string) =>
    take(async () => {
      const brought = await dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/catalogue/bring", {
          params: { path: { studio, plan_id: planId } },
          body: { ...session.question, from_plan: from || null },
        }),
      );
      if (!brought.patch.length) throw new Error("There is nothing new in it.");
      return brought.patch;
    });
  return (
    <>
      <p className="mt-5 flex flex-wrap items-center gap-5">
        <a className={LINK} href={`/api/studios/${studio}/plans/${planId}/catalogue/${list}`}>
          This list as CSV
        </a>
        {mayWrite && (
          <>
            <Button look="text" onClick={() => bring("")}>
              Add the generic classes
            </Button>
            <Offer
              className="max-w-72"
              label="Bring the catalogue of another plan"
              words="Bring the catalogue of …"
              from={plans.filter((plan) => plan.id !== planId)}
              onChoose={bring}
            />
          </>
        )}
      </p>
      <Problem of={problem} />
      {mayWrite && <BringList />}
    </>
  );
}

/** Drives, boxes or prices from a CSV. */
function BringList() {
  const { session, studio, planId } = usePlanTools();
  return (
    <BringCsv<Read>
      look={(text) =>
        dataOf(
          client.POST("/api/studios/{studio}/plans/{plan_id}/catalogue/read", {
            params: { path: { studio, plan_id: planId } },
            body: { ...session.question, text },
          }),
        )
      }
      said={(read) => (
        <>
          {counted(read.added, "new line")}, {counted(read.replaced, "line")} replaced, among the{" "}
          {read.listing}
        </>
      )}
    >
      Bring drives, boxes or prices as CSV. The lists that are downloaded here show every column;
      sizes and rates carry their unit, prices are class,price,currency,date:
    </BringCsv>
  );
}
