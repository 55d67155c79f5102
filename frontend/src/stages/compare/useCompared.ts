import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";

import { client, dataOf, type SideBySide, type WhatIf } from "../../api/client";
import { usePlanTools, useSnapshot } from "../../plan/context";

export const MOST = 4;

/** One that is compared: a plan, at its newest or at an earlier revision. */
export interface Compared {
  plan_id: string;
  revision: number | null;
}

const written = ({ plan_id, revision }: Compared) =>
  revision ? `${plan_id}@${revision}` : plan_id;

const read = (text: string): Compared => {
  const [plan_id = "", revision] = text.split("@");
  return { plan_id, revision: revision ? Number(revision) : null };
};

/** What is compared stands in the address, so that it can be handed on: the baseline, and the others. */
export function useCompared() {
  const { planId } = usePlanTools();
  const [params, setParams] = useSearchParams();
  const others = (params.get("with") ?? "").split(",").filter(Boolean).map(read);
  const baseline = params.get("from")
    ? read(params.get("from") ?? "")
    : { plan_id: planId, revision: null };
  const plans = [baseline, ...others].slice(0, MOST);
  const put = (from: Compared, list: readonly Compared[]) =>
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        next.set("with", list.map(written).join(","));
        if (from.plan_id === planId && !from.revision) next.delete("from");
        else next.set("from", written(from));
        return next;
      },
      { replace: true },
    );
  return {
    plans,
    add: (one: Compared) => put(baseline, [...others, one].slice(0, MOST - 1)),
    drop: (at: number) => {
      const left = plans.filter((_, n) => n !== at);
      if (left[0]) put(left[0], left.slice(1));
    },
    /** From now on the others are held against this one. */
    pin: (at: number) => {
      const pinned = plans[at];
      if (pinned)
        put(
          pinned,
          plans.filter((_, n) => n !== at),
        );
    },
  };
}

/** The comparison of saved plans: what is typed on this page is saved within a moment, and asked anew. */
export function useSideBySide(plans: readonly Compared[], whatIf: WhatIf, sameBrief: boolean) {
  const { studio } = usePlanTools();
  const { shown, status } = useSnapshot();
  return useQuery({
    queryKey: ["side by side", studio, JSON.stringify([plans, whatIf, sameBrief]), shown[0]],
    queryFn: () =>
      dataOf<SideBySide>(
        client.POST("/api/studios/{studio}/side-by-side", {
          params: { path: { studio } },
          body: { plans: [...plans], what_if: whatIf, same_brief: sameBrief },
        }),
      ),
    enabled: plans.length > 1 && status !== "saving",
    placeholderData: keepPreviousData,
  });
}
