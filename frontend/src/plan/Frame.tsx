import { useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { Link, NavLink, useNavigate, useParams } from "react-router";

import { SESSION, type Session } from "../api/client";
import { agoText } from "../kit/format";
import { Mark } from "../kit/Mark";
import { Palette, type Command } from "../kit/Palette";
import { ScalesStrip } from "./Scales";
import { useShortcuts } from "../kit/shortcuts";
import { ThemeSwitch } from "../kit/ThemeSwitch";
import { ClashPanel } from "./ClashPanel";
import { usePlanTools, useSnapshot } from "./context";
import { BESIDE_VIEWS, STAGES, VIEWS } from "./stages";
import { Button, LINK } from "../kit/Button";
import { Key } from "../kit/Key";
import { Count } from "../kit/Count";
import { Notice } from "../kit/Notice";

const ExplainPanel = lazy(() =>
  import("./ExplainPanel").then((m) => ({ default: m.ExplainPanel })),
);
const FindingsPanel = lazy(() =>
  import("./FindingsPanel").then((m) => ({ default: m.FindingsPanel })),
);
const HelpPanel = lazy(() => import("./HelpPanel").then((m) => ({ default: m.HelpPanel })));
const HistoryPanel = lazy(() =>
  import("./HistoryPanel").then((m) => ({ default: m.HistoryPanel })),
);

export type Panel =
  { kind: "explain"; figureId: string } | { kind: "findings" | "history" | "help" } | null;

/** The frame around a plan: head, stages, the stage itself, panels, and the scales that never leave. */
export function Frame({ panel, setPanel }: { panel: Panel; setPanel: (panel: Panel) => void }) {
  const { session, studio, planId, mayWrite } = usePlanTools();
  const { plan, document, evaluation, notice } = useSnapshot();
  const { stage = "brief" } = useParams();
  const studioName = useStudioName(studio);
  const navigate = useNavigate();
  const [finding, setFinding] = useState(false);
  const close = () => setPanel(null);
  const here = `/s/${studio}/plans/${planId}`;
  useEffect(() => {
    window.document.title = `${document.plan.name} · Grand Larder`;
  }, [document.plan.name]);

  const commands = useMemo<Command[]>(() => {
    const step = (which: "undo" | "redo") => () => void session.step(which);
    const writing: Command[] = mayWrite
      ? [
          { name: "Undo your last change", keys: "u", run: step("undo") },
          { name: "Redo", keys: "r", run: step("redo") },
        ]
      : [];
    return [
      ...STAGES.map((s) => ({
        name: s.title,
        keys: `g ${s.number}`,
        run: () => void navigate(`${s.is_of_studio ? `/s/${studio}` : here}/${s.id}`),
      })),
      ...writing,
      { name: "Findings", keys: "f", run: () => setPanel({ kind: "findings" }) },
      { name: "History", keys: "h", run: () => setPanel({ kind: "history" }) },
      ...BESIDE_VIEWS.map((v) => ({
        name: v.title,
        run: () => void navigate(`${here}/${v.id}`),
      })),
      { name: "Help", keys: "?", run: () => setPanel({ kind: "help" }) },
      { name: "All plans of the studio", run: () => void navigate(`/s/${studio}/plans`) },
      {
        name: "Download the plan file",
        run: () => window.location.assign(`/api/studios/${studio}/plans/${planId}/bundle`),
      },
      ...["speed", "space", "safety", "money"].map((name) => ({
        name: `Explain ${name}`,
        run: () => setPanel({ kind: "explain" as const, figureId: `scales.${name}` }),
      })),
    ];
  }, [session, studio, planId, mayWrite, here, navigate, setPanel]);
  const actions = useMemo(() => {
    const table: Record<string, () => void> = {
      "/": () => setFinding(true),
      "ctrl+k": () => setFinding(true),
      Escape: () => setPanel(null),
    };
    for (const command of commands)
      if (command.keys) table[command.keys.replace(" ", "")] = command.run;
    return table;
  }, [commands, setPanel]);
  useShortcuts(actions);
  const main = useRef<HTMLElement>(null);
  useEffect(() => {
    main.current?.scrollTo(0, 0);
  }, [stage]);

  const open = evaluation.findings.filter((f) => !f.accepted_reason);
  const View = (VIEWS.find((v) => v.id === stage) ?? VIEWS[0])?.Component;
  return (
    <div className="frame">
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
        <nav
          aria-label="Plan"
          className="ml-auto flex items-center gap-2 text-sm whitespace-nowrap"
        >
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
          <Button onClick={() => setFinding(true)}>
            Find <Key>/</Key>
          </Button>
          <span className="wide-only">
            <ThemeSwitch />
          </span>
        </nav>
      </header>
      <nav className="frame-stages" aria-label="Stages">
        <ul className="py-3">
          {STAGES.map((s) => {
            const count = open.filter((f) => f.stage === s.id).length;
            return (
              <li key={s.id}>
                <NavLink
                  className="flex items-baseline gap-3 border-r-4 border-transparent py-2 pr-3 pl-4 aria-[current=page]:border-primary aria-[current=page]:bg-base-200 aria-[current=page]:font-[650]"
                  to={`${s.is_of_studio ? `/s/${studio}` : here}/${s.id}`}
                >
                  <span className="faint w-4 text-right text-sm">{s.number}</span>
                  <span className="grow">{s.title}</span>
                  <Count of={count} what="open findings" />
                </NavLink>
              </li>
            );
          })}
        </ul>
        <ul className="flex-wrap space-y-1 border-t border-base-300 px-4 py-3 text-sm">
          <li>
            <Button look="text" onClick={() => setPanel({ kind: "findings" })}>
              Findings ({open.length})
            </Button>
          </li>
          <li>
            <Button look="text" onClick={() => setPanel({ kind: "history" })}>
              History
            </Button>
          </li>
          {BESIDE_VIEWS.map((v) => (
            <li key={v.id}>
              <Link className={LINK} to={`${here}/${v.id}`}>
                {v.title}
              </Link>
            </li>
          ))}
          <li>
            <a className={LINK} href={`/api/studios/${studio}/plans/${planId}/bundle`}>
              Plan file
            </a>
          </li>
          <li>
            <Button look="text" onClick={() => setPanel({ kind: "help" })}>
              Help
            </Button>
          </li>
        </ul>
      </nav>
      <div className="relative min-h-0 min-w-0">
        <main ref={main} className="relative h-full overflow-y-auto">
          <ClashPanel />
          {notice && (
            <Notice>
              <span>{notice}</span>
              <Button look="text" onClick={() => session.dismissNotice()}>
                Dismiss
              </Button>
            </Notice>
          )}
          <Suspense fallback={<p className="faint p-6">Opening …</p>}>{View && <View />}</Suspense>
        </main>
        {finding && <Palette commands={commands} onClose={() => setFinding(false)} />}
        <Suspense fallback={null}>
          {panel?.kind === "explain" && <ExplainPanel figureId={panel.figureId} onClose={close} />}
          {panel?.kind === "findings" && <FindingsPanel onClose={close} />}
          {panel?.kind === "history" && <HistoryPanel onClose={close} />}
          {panel?.kind === "help" && <HelpPanel onClose={close} />}
        </Suspense>
      </div>
      <footer className="frame-scales">
        <ScalesStrip />
      </footer>
    </div>
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
