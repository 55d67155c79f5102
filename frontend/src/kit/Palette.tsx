import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import { Input } from "./Input";
import { Key } from "./Key";

export interface Command {
  name: string;
  keys?: string;
  run: () => void;
}

/** Find a command by typing a part of its name; arrows choose, Enter does it, Escape leaves. */
export function Palette({ commands, onClose }: { commands: Command[]; onClose: () => void }) {
  const [typed, setTyped] = useState("");
  const [chosen, setChosen] = useState(0);
  const input = useFocusLent<HTMLInputElement>();
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const found = commands.filter((c) => words.every((word) => c.name.toLowerCase().includes(word)));
  const at = Math.min(chosen, found.length - 1);
  const run = (command: Command | undefined) => {
    if (!command) return;
    onClose();
    command.run();
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Escape") onClose();
    else if (event.key === "ArrowDown") setChosen(Math.min(at + 1, found.length - 1));
    else if (event.key === "ArrowUp") setChosen(Math.max(at - 1, 0));
    else if (event.key === "Enter") run(found[at]);
    else return;
    event.preventDefault();
  };
  return (
    <div className="absolute inset-x-0 top-0 z-30 mx-auto w-[34rem] max-w-full border-2 border-primary bg-base-200 p-3">
      <Input
        ref={input}
        className="w-full"
        role="combobox"
        aria-label="Find a stage, figure or command"
        aria-expanded="true"
        aria-controls="palette-list"
        aria-activedescendant={found[at] ? `palette-${at}` : undefined}
        placeholder="Find a stage, figure or command"
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          setChosen(0);
        }}
        onKeyDown={onKeyDown}
        onBlur={(event) => !event.relatedTarget && onClose()}
      />
      <Found commands={found} at={at} run={run} />
      {found.length === 0 && <p className="faint px-2 py-1">Nothing by that name.</p>}
    </div>
  );
}

/** Takes the focus, and gives it back to who had it. */
function useFocusLent<E extends HTMLElement>() {
  const taker = useRef<E>(null);
  useEffect(() => {
    const before = document.activeElement;
    taker.current?.focus();
    return () => {
      if (before instanceof HTMLElement && before.isConnected) before.focus();
    };
  }, []);
  return taker;
}

function Found({
  commands,
  at,
  run,
}: {
  commands: Command[];
  at: number;
  run: (command: Command) => void;
}) {
  return (
    <div
      id="palette-list"
      role="listbox"
      aria-label="Found"
      className="mt-2 max-h-80 overflow-y-auto"
    >
      {commands.map((command, index) => (
        <div
          key={command.name}
          id={`palette-${index}`}
          role="option"
          tabIndex={-1}
          aria-selected={index === at}
          className={`flex cursor-pointer justify-between px-2 py-1 ${index === at ? "bg-base-300" : ""}`}
          onMouseDown={(event) => {
            event.preventDefault();
            run(command);
          }}
        >
          {command.name}
          {command.keys && <Key>{command.keys}</Key>}
        </div>
      ))}
    </div>
  );
}
