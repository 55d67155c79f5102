import { useEffect } from "react";

const SWITCH = "larder-one-key-shortcuts";
const PREFIX_MS = 1500;

export function shortcutsOn(): boolean {
  return localStorage.getItem(SWITCH) !== "off";
}

export function switchShortcuts(on: boolean): void {
  localStorage.setItem(SWITCH, on ? "on" : "off");
}

/** One-key shortcuts, outside fields only; "g 4" is written as the key "g4". Ctrl and Cmd keys always act. */
export function useShortcuts(actions: Record<string, () => void>): void {
  useEffect(() => {
    let prefix = "";
    let digits = "";
    let timer: ReturnType<typeof setTimeout> | undefined;
    const forget = () => {
      prefix = "";
      digits = "";
    };
    const run = (name: string, event: KeyboardEvent): boolean => {
      const action = actions[name];
      if (!action) return false;
      event.preventDefault();
      forget();
      action();
      return true;
    };
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if ((event.ctrlKey || event.metaKey) && run(`ctrl+${event.key.toLowerCase()}`, event)) return;
      if (event.ctrlKey || event.metaKey || event.altKey || !shortcutsOn()) return;
      if (target.closest("input, select, textarea, [contenteditable]")) return;
      if (prefix === "g" && /^\d$/.test(event.key)) {
        digits += event.key;
        run(`g${digits}`, event);
        return;
      }
      if (event.key === "g") {
        prefix = "g";
        digits = "";
        clearTimeout(timer);
        timer = setTimeout(forget, PREFIX_MS);
        return;
      }
      run(event.key, event);
    };
    window.addEventListener("keydown", onKey);
    return () => {
      clearTimeout(timer);
      window.removeEventListener("keydown", onKey);
    };
  }, [actions]);
}
