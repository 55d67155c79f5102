import { useMemo } from "react";

import { useSnapshot } from "../../plan/context";
import type { Option } from "../../plan/fields";

/** What a link may begin at and lead to, by their names. */
export function useEnds(): { nears: Option[]; fars: Option[] } {
  const { plan } = useSnapshot().document;
  const { seats } = plan.brief;
  const { switches } = plan.wiring ?? {};
  const { boxes } = plan;
  return useMemo(() => {
    const named = (kind: string, items: readonly { id: string; name: string }[] = []) =>
      items.map((item): Option => [`${kind}:${item.id}`, item.name]);
    const between = named("switch", switches);
    return {
      nears: [...named("seat", seats), ...between, ["outside", "the outside line"]],
      fars: [...between, ...named("box", boxes), ["storage", "the storage"]],
    };
  }, [seats, switches, boxes]);
}
