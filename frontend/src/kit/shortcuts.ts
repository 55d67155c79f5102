import { useEffect, useRef } from "react";

import { KeySequence } from "./keySequence";

const SWITCH = "larder-one-key-shortcuts";

export function shortcutsOn(): boolean {
  return localStorage.getItem(SWITCH) !== "off";
}

export function switchShortcuts(on: boolean): void {
  localStorage.setItem(SWITCH, on ? "on" : "off");
}

type Actions = Record<string, () => void>;

/** One-key shortcuts, outside fields only; "g 4" is written as the key "g4". Ctrl and Cmd keys always act. */
export function useShortcuts(actions: Actions): void {
  const now = useRef(actions);
  useEffect(() => {
    now.current = actions;
  }, [actions]);
  useEffect(() => {
    const sequence = new KeySequence(() => now.current);
    const onKey = (event: KeyboardEvent) => {
      const isHeld = event.ctrlKey || event.metaKey;
      const held = isHeld ? now.current[`ctrl+${event.key.toLowerCase()}`] : undefined;
      if (held) {
        event.preventDefault();
        sequence.forget();
        held();
      }
      if (isHeld || event.altKey || !shortcutsOn() || isTyping(event)) return;
      if (sequence.take(event.key)) event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => {
      sequence.forget();
      window.removeEventListener("keydown", onKey);
    };
  }, []);
}

const isTyping = ({ target }: KeyboardEvent) =>
  target instanceof Element &&
  target.closest("input, select, textarea, [contenteditable]") !== null;
