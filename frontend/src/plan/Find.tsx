import { useState } from "react";
import { useNavigate } from "react-router";

import { client, type Hit } from "../api/client";
import { Palette, type Command, type Found } from "../kit/Palette";
import { useLate } from "../kit/useLate";
import { usePlanTools } from "./context";
import type { Panel } from "./panel";
import { useGoTo } from "./place";
import { useAsked } from "./useAsked";

/** Finds what the plan, the studio's plans and the stock have, and what can be done; and opens it. */
export function Find({
  commands,
  setPanel,
  onClose,
}: {
  commands: Command[];
  setPanel: (panel: Panel) => void;
  onClose: () => void;
}) {
  const [typed, setTyped] = useState("");
  const asked = useLate(typed.trim(), 80);
  const answer = useAsked<Hit[]>(["find", asked], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/find", {
      params,
      body: { ...question, text: asked },
    }),
  );
  const open = useOpen(setPanel);
  const isCurrent = asked === typed.trim() && !answer.isPending && !answer.isPlaceholderData;
  const hits = typed.trim() && isCurrent ? (answer.data ?? []) : [];
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const found: Found[] = [
    ...commands
      .filter((c) => words.every((word) => c.name.toLowerCase().includes(word)))
      .map((c) => ({ ...c, id: `command ${c.name}`, kind: "do" })),
    ...hits.map((hit) => ({
      id: `${hit.kind} ${hit.opens} ${hit.at} ${hit.name}`,
      kind: hit.kind,
      name: hit.name,
      detail: hit.detail,
      run: () => open(hit),
    })),
  ];
  return (
    <Palette
      typed={typed}
      onType={setTyped}
      found={found}
      isLooking={!isCurrent}
      onClose={onClose}
    />
  );
}

/** Opens what was found, where it stands. */
function useOpen(setPanel: (panel: Panel) => void): (hit: Hit) => void {
  const { studio } = usePlanTools();
  const navigate = useNavigate();
  const goTo = useGoTo();
  return (hit) => {
    if (hit.opens === "figure") setPanel({ kind: "explain", figureId: hit.at });
    else if (hit.opens === "findings") setPanel({ kind: "findings", key: hit.at });
    else if (hit.opens === "plan") void navigate(`/s/${studio}/plans/${hit.at}/brief`);
    else if (hit.opens === "stock")
      void navigate(`/s/${studio}/stock`, { state: { device: hit.at } });
    else goTo(hit.at);
  };
}
