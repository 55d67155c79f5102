import { useQueryClient } from "@tanstack/react-query";

import { api, client, dataOf, type Standards } from "../api/client";
import { counted, dateText } from "../kit/format";
import { usePlanTools } from "./context";
import { useTaken } from "./useTaken";
import { Button } from "../kit/Button";
import { Problem } from "../kit/Problem";

type Part = "house_rules" | "catalogue";

/** The studio's house rules, classes and prices, as they are kept for all its plans. */
export function useStandards(): Standards | undefined {
  const { studio } = usePlanTools();
  return api.useQuery("get", "/api/studios/{studio}/standards", { params: { path: { studio } } })
    .data;
}

/** Takes one part of the studio's values into this plan, or makes this plan's the studio's. */
export function StandardsBar({ part }: { part: Part }) {
  const { mayWrite } = usePlanTools();
  const standards = useStandards();
  const { problem, takeOver, make } = useStandardsChange(part, standards?.number ?? 0);
  if (!standards) return null;
  const what =
    part === "house_rules"
      ? "house rules"
      : `${counted(standards.classes, "class", "classes")} and ${counted(standards.prices, "price")}`;
  return (
    <div className="my-3">
      <p className="flex flex-wrap items-center gap-x-5">
        <span className="faint" role="status">
          The studio’s {what}:{" "}
          {standards.changed_at
            ? `set by ${standards.changed_by || "somebody"} on ${dateText(standards.changed_at)}.`
            : "as they came."}
        </span>
        {mayWrite && (
          <>
            <Button look="text" onClick={takeOver}>
              Take the studio’s
            </Button>
            <Button look="text" onClick={make}>
              Make these the studio’s
            </Button>
          </>
        )}
      </p>
      <Problem
        of={standards.reason && `What the studio kept cannot be read: ${standards.reason}`}
      />
      <Problem of={problem} />
    </div>
  );
}

/** From the studio into this plan, and from this plan to the studio; `number` is what was looked at. */
function useStandardsChange(part: Part, number: number) {
  const { session, studio, planId } = usePlanTools();
  const queries = useQueryClient();
  const { problem, take } = useTaken();
  const path = { studio, plan_id: planId };
  const asked = () => ({ ...session.question, part });
  const takeOver = () =>
    take(async () => {
      const { patch } = await dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/standards/take", {
          params: { path },
          body: asked(),
        }),
      );
      if (!patch.length) throw new Error("This plan has the studio’s already.");
      return patch;
    });
  const make = () =>
    take(async () => {
      try {
        await dataOf(
          client.POST("/api/studios/{studio}/plans/{plan_id}/standards/make", {
            params: { path },
            body: { ...asked(), number },
          }),
        );
      } finally {
        await queries.invalidateQueries({ queryKey: ["get", "/api/studios/{studio}/standards"] });
      }
      return [];
    });
  return { problem, takeOver, make };
}
