import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";

import {
  client,
  dataOf,
  type Advice,
  type JudgedDesign,
  type Disagreement,
  type LongJob,
  type MoreOf,
  type Offer,
  type WhyNot,
} from "../../api/client";
import { usePlanTools } from "../../plan/context";
import { useAsked } from "../../plan/useAsked";
import { useWatched, type Watched } from "../../plan/useLongJob";

/** What one may point at, and whether the catalogue takes long to look through. */
export const useOffer = () =>
  useAsked<Offer>(["offered"], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/advise/offered", { params, body: question }),
  );

/** A search that takes long: begun where one may, and looked at until it has ended. */
export interface Search extends Watched {
  error: Error | null;
  /** Nobody has asked it, and whoever looks may not. */
  isNobodys: boolean;
}

const SEARCH = "/api/studios/{studio}/plans/{plan_id}/advise/search";

function useSearch(what: "" | "/more" | "/why-not", of: string, enabled: boolean): Search {
  const { mayWrite } = usePlanTools();
  const asked = useAsked<LongJob | null>(
    ["search", what, of],
    ({ params, question }) => {
      const body = { ...question, begin: mayWrite };
      return what === "/why-not"
        ? client.POST(`${SEARCH}/why-not`, { params, body: { ...body, of } })
        : client.POST(`${SEARCH}${what}`, { params, body });
    },
    { held: false, enabled },
  );
  const watched = useWatched(asked.data ?? null);
  return { ...watched, error: asked.error, isNobodys: asked.data === null };
}

/** Designs first, which come soon; then the same with why the other schools lose. */
export function useAdvice() {
  const offer = useOffer();
  const isShort = offer.data?.takes_long === false;
  const first = useAdviceOf(false, isShort);
  const whole = useAdviceOf(true, isShort && first.data !== undefined);
  const search = useSearch("", "", offer.data?.takes_long === true);
  return {
    advice: whole.data ?? first.data ?? search.job?.advice ?? undefined,
    isWhole: whole.data !== undefined || search.job?.status === "done",
    search: offer.data?.takes_long ? search : null,
    error: offer.error ?? first.error ?? search.error,
  };
}

const useAdviceOf = (losers: boolean, enabled: boolean) =>
  useAsked<Advice>(
    ["advice", String(losers)],
    ({ params, question }) =>
      client.POST("/api/studios/{studio}/plans/{plan_id}/advise", {
        params,
        body: { ...question, losers },
      }),
    { held: false, enabled },
  );

/** What comes of whatever one points at. */
export function useWhyNot(of: string) {
  const takesLong = useOffer().data?.takes_long;
  const answer = useAsked<WhyNot>(
    ["why not", of],
    ({ params, question }) =>
      client.POST("/api/studios/{studio}/plans/{plan_id}/advise/why-not", {
        params,
        body: { ...question, of },
      }),
    { held: false, enabled: of !== "" && takesLong === false },
  );
  const search = useSearch("/why-not", of, of !== "" && takesLong === true);
  return either(takesLong, answer, search, search.job?.why_not);
}

/** What a little more costs, once it is asked for. */
export function useMore(isAsked: boolean) {
  const takesLong = useOffer().data?.takes_long;
  const answer = useAsked<MoreOf[]>(
    ["more of"],
    ({ params, question }) =>
      client.POST("/api/studios/{studio}/plans/{plan_id}/advise/more", { params, body: question }),
    { held: false, enabled: isAsked && takesLong === false },
  );
  const search = useSearch("/more", "", isAsked && takesLong === true);
  return either(takesLong, answer, search, search.job?.more?.told);
}

/** What was answered at once, or what a search came to. */
const either = <T>(
  takesLong: boolean | undefined,
  answer: { data: T | undefined; error: Error | null },
  search: Search,
  came: T | null | undefined,
) => ({
  data: answer.data ?? came ?? null,
  error: answer.error ?? search.error,
  search: takesLong ? search : null,
});

/** Both sides of every question; asked anew once a search that they hang on is done. */
export const useDisagreements = (hangsOn: string) =>
  useAsked<Disagreement[]>(["disagreements", hangsOn], ({ params, question }) =>
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
    mutationFn: ({ design, name }: { design: JudgedDesign; name: string }) =>
      dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/advise/open", {
          params: { path: { studio, plan_id: planId } },
          body: { ...session.question, key: design.key, name },
        }),
      ),
  });
  const goTo = (design: JudgedDesign, name: string) =>
    open.mutate(
      { design, name },
      { onSuccess: (plan) => void navigate(`/s/${studio}/plans/${plan.id}/tiers`) },
    );
  return { open, goTo };
}
