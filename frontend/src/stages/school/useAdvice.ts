import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";

import {
  client,
  dataOf,
  type Advice,
  type DesignTold,
  type Disagreement,
  type MoreOf,
  type Offered,
  type WhyNot,
} from "../../api/client";
import { usePlanTools } from "../../plan/context";
import { useAsked } from "../../plan/useAsked";

/** Designs first, which come soon; then the same with why the other schools lose. */
export function useAdvice() {
  const first = useAdviceOf(false);
  const whole = useAdviceOf(true, first.data !== undefined);
  return {
    advice: whole.data ?? first.data,
    isWhole: whole.data !== undefined,
    error: first.error,
  };
}

const useAdviceOf = (losers: boolean, enabled = true) =>
  useAsked<Advice>(
    ["advice", String(losers)],
    ({ params, question }) =>
      client.POST("/api/studios/{studio}/plans/{plan_id}/advise", {
        params,
        body: { ...question, losers },
      }),
    { held: false, enabled },
  );

export const useOffered = () =>
  useAsked<Offered[]>(["offered"], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/advise/offered", { params, body: question }),
  );

export const useWhyNot = (of: string) =>
  useAsked<WhyNot>(
    ["why not", of],
    ({ params, question }) =>
      client.POST("/api/studios/{studio}/plans/{plan_id}/advise/why-not", {
        params,
        body: { ...question, of },
      }),
    { held: false, enabled: of !== "" },
  );

export const useMore = (enabled: boolean) =>
  useAsked<MoreOf[]>(
    ["more of"],
    ({ params, question }) =>
      client.POST("/api/studios/{studio}/plans/{plan_id}/advise/more", { params, body: question }),
    { held: false, enabled },
  );

export const useDisagreements = () =>
  useAsked<Disagreement[]>(["disagreements"], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/advise/disagreements", {
      params,
      body: question,
    }),
  );

/** A design becomes a plan of its own, which is gone to, or whose id is handed on. */
export function useOpenDesign() {
  const { session, studio, planId } = usePlanTools();
  const navigate = useNavigate();
  const open = useMutation({
    mutationFn: ({ design, name }: { design: DesignTold; name: string }) =>
      dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/advise/open", {
          params: { path: { studio, plan_id: planId } },
          body: { ...session.question, key: design.key, name },
        }),
      ),
  });
  const goTo = (design: DesignTold, name: string) =>
    open.mutate(
      { design, name },
      { onSuccess: (plan) => void navigate(`/s/${studio}/plans/${plan.id}/tiers`) },
    );
  return { open, goTo };
}
