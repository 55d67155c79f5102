import { useState } from "react";
import { Select } from "./Input";

const KEY = "larder-theme";
const THEMES = [
  ["", "System"],
  ["daylight", "Daylight"],
  ["machineroom", "Machine room"],
] as const;

/** Light for the office, dark for the machine room, or as the system says. */
export function ThemeSwitch() {
  const [theme, setTheme] = useState(() => localStorage.getItem(KEY) ?? "");
  const choose = (next: string) => {
    setTheme(next);
    if (next) {
      localStorage.setItem(KEY, next);
      document.documentElement.dataset.theme = next;
    } else {
      localStorage.removeItem(KEY);
      delete document.documentElement.dataset.theme;
    }
  };
  return (
    <Select
      aria-label="Theme"
      className="border-current/45 bg-neutral"
      value={theme}
      onChange={(event) => choose(event.target.value)}
    >
      {THEMES.map(([value, words]) => (
        <option key={value} value={value}>
          {words}
        </option>
      ))}
    </Select>
  );
}
