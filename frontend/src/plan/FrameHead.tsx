import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link } from "react-router";

import { SESSION, type Session } from "../api/client";
import { agoText } from "../kit/format";
import { Mark } from "../kit/Mark";
import { ThemeSwitch } from "../kit/ThemeSwitch";
import { usePlanTools, useSnapshot } from "./context";
import { Button } from "../kit/Button";
import { Key } from "../kit/Key";

/** The head of an open plan: whose it is, how it is kept, and what can be taken back. */
export function FrameHead({ find }: { find: () => void }) {
  const { session, studio, mayWrite } = usePlanTools();
  const { plan, document } = useSnapshot();
  const studioName = useStudioName(studio);
  return (
    <header className="frame-head flex items-center gap-4 px-4">
      <Link
        to={`/s/${studio}/plans`}
        className="flex items-center gap-3"
        aria-label="Grand Larder, all plans"
      >
        <Mark />
        <span className="wide-only font-[Bricolage_Grotesque_Variable] text-lg font-bold">
          Grand Larder
        </span>
      </Link>
      <span className="wide-only text-sm opacity-80">{studioName}</span>
      <h1 className="truncate text-lg">{document.plan.name}</h1>
      <nav aria-label="Plan" className="ml-auto flex items-center gap-2 text-sm whitespace-nowrap">
        <Status />
        {mayWrite && (
          <>
            <Button disabled={!plan.can_undo} onClick={() => void session.step("undo")}>
              Undo
            </Button>
            <Button disabled={!plan.can_redo} onClick={() => void session.step("redo")}>
              Redo
            </Button>
          </>
        )}
        <Button onClick={find}>
          Find <Key>/</Key>
        </Button>
        <span className="wide-only">
          <ThemeSwitch />
        </span>
      </nav>
    </header>
  );
}

/** The studio's name, from the session that the page has loaded anyway. */
function useStudioName(slug: string): string {
  const session = useQueryClient().getQueryData<Session>(SESSION);
  return session?.studios.find((s) => s.slug === slug)?.name ?? "";
}

function Status() {
  const { plan, status } = useSnapshot();
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const tick = setInterval(() => setNow(Date.now()), 20_000);
    return () => clearInterval(tick);
  }, []);
  const words = {
    saved: `revision ${plan.head} · ${agoText(plan.changed_at, Math.max(now, Date.parse(plan.changed_at)))}`,
    changed: "changed, not saved yet",
    saving: "saving …",
    offline: "no connection: kept here, sent when it is back",
  }[status];
  return (
    <span className="wide-only mr-2 opacity-85" role="status" data-testid="status">
      {words}
    </span>
  );
}
