import { useMemo } from "react";
import { useNavigate } from "react-router";

import type { Command } from "../kit/Palette";
import { useShortcuts } from "../kit/shortcuts";
import { usePlanTools, useSnapshot } from "./context";
import type { Panel } from "./panel";
import { useGoTo } from "./place";
import { BESIDE_VIEWS, STAGES } from "./stages";

/** Everything that can be done from anywhere in a plan, for the palette. */
export function useCommands(setPanel: (panel: Panel) => void): Command[] {
  const { session, studio, planId, mayWrite } = usePlanTools();
  const { open_work } = useSnapshot().evaluation;
  const navigate = useNavigate();
  const goTo = useGoTo();
  return useMemo<Command[]>(() => {
    const here = `/s/${studio}/plans/${planId}`;
    const to = (address: string) => () => void navigate(address);
    const open = (kind: "findings" | "history" | "help") => () => setPanel({ kind });
    const step = (which: "undo" | "redo") => () => void session.step(which);
    const writing: Command[] = [
      ...open_work.map((each, n) => ({
        name: `Still open: ${each.words}`,
        ...(n === 0 && { keys: "o" }),
        run: () => goTo(each.path),
      })),
      { name: "Undo your last change", keys: "u", run: step("undo") },
      { name: "Redo", keys: "r", run: step("redo") },
    ];
    return [
      ...STAGES.map((s) => ({
        name: s.title,
        keys: `g ${s.number}`,
        run: to(`${s.is_of_studio ? `/s/${studio}` : here}/${s.id}`),
      })),
      ...(mayWrite ? writing : []),
      { name: "Findings", keys: "f", run: open("findings") },
      { name: "History", keys: "h", run: open("history") },
      ...BESIDE_VIEWS.map((v) => ({ name: v.title, run: to(`${here}/${v.id}`) })),
      { name: "Help", keys: "?", run: open("help") },
      { name: "All plans of the studio", run: to(`/s/${studio}/plans`) },
      {
        name: "Download the plan file",
        run: () => window.location.assign(`/api/studios/${studio}/plans/${planId}/bundle`),
      },
      ...["speed", "space", "safety", "money"].map((name) => ({
        name: `Explain ${name}`,
        run: () => setPanel({ kind: "explain" as const, figureId: `scales.${name}` }),
      })),
    ];
  }, [session, studio, planId, mayWrite, navigate, setPanel, open_work, goTo]);
}

/** The commands' keys, and those that open the palette and close what is open. */
export function useCommandKeys(commands: Command[], find: () => void, close: () => void): void {
  const actions = useMemo(() => {
    const table: Record<string, () => void> = { "/": find, "ctrl+k": find, Escape: close };
    for (const command of commands)
      if (command.keys) table[command.keys.replace(" ", "")] = command.run;
    return table;
  }, [commands, find, close]);
  useShortcuts(actions);
}
