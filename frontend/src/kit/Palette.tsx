import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import { Input } from "./Input";
import { Key } from "./Key";

/** Something that can be done from anywhere. */
export interface Command {
  name: string;
  keys?: string;
  run: () => void;
}

/** Something that was found: what it is, and more about it. */
export interface Found extends Command {
  id: string;
  kind: string;
  detail?: string;
}

interface Props {
  typed: string;
  onType: (text: string) => void;
  found: Found[];
  /** Whether what is listed may not be all yet. */
  isLooking: boolean;
  onClose: () => void;
}

/** Find by typing; arrows choose, Enter opens, Escape leaves. */
export function Palette({ typed, onType, found, isLooking, onClose }: Props) {
  const { taker: input, keep } = useFocusLent<HTMLInputElement>();
  const open = (entry: Found) => {
    keep();
    onClose();
    entry.run();
  };
  const { at, first, onKeyDown } = useChoice({ found, isLooking, open, onClose });
  return (
    <search
      aria-label="Find"
      className="absolute inset-x-0 top-0 z-30 mx-auto w-[40rem] max-w-full border-2 border-primary bg-base-200 p-3"
    >
      <Input
        ref={input}
        className="w-full"
        role="combobox"
        aria-label="Find anything"
        aria-expanded="true"
        aria-controls="palette-list"
        aria-activedescendant={found[at] ? `palette-${at}` : undefined}
        placeholder="A seat, format, pool, drive, bay, hop, finding, figure, rule, plan, device or command"
        value={typed}
        onChange={(event) => {
          onType(event.target.value);
          first();
        }}
        onKeyDown={onKeyDown}
        onBlur={(event) => !event.relatedTarget && onClose()}
      />
      <Listed found={found} at={at} run={open} />
      {found.length === 0 && (
        <p className="faint px-2 py-1" role="status">
          {isLooking ? "Looking …" : "Nothing by that name."}
        </p>
      )}
    </search>
  );
}

/** Which of what was found is chosen. Who presses Enter before the answer is there means the first of it. */
function useChoice({
  found,
  isLooking,
  open,
  onClose,
}: Pick<Props, "found" | "isLooking" | "onClose"> & { open: (entry: Found) => void }) {
  const [chosen, setChosen] = useState(0);
  const [isHasty, setHasty] = useState(false);
  const at = Math.min(chosen, found.length - 1);
  const awaited = isHasty && !isLooking ? found[0] : undefined;
  useEffect(() => {
    if (awaited) open(awaited);
  });
  const onKeyDown = (event: KeyboardEvent) => {
    const entry = found[at];
    if (event.key === "Escape") onClose();
    else if (event.key === "ArrowDown") setChosen(Math.min(at + 1, found.length - 1));
    else if (event.key === "ArrowUp") setChosen(Math.max(at - 1, 0));
    else if (event.key === "Enter" && entry) open(entry);
    else if (event.key === "Enter") setHasty(isLooking);
    else return;
    event.preventDefault();
  };
  const first = () => {
    setChosen(0);
    setHasty(false);
  };
  return { at, first, onKeyDown };
}

/** Takes the focus, and gives it back to who had it, unless what was found takes it on. */
function useFocusLent<E extends HTMLElement>() {
  const taker = useRef<E>(null);
  const isKept = useRef(false);
  useEffect(() => {
    const before = document.activeElement;
    taker.current?.focus();
    return () => {
      if (!isKept.current && before instanceof HTMLElement && before.isConnected) before.focus();
    };
  }, []);
  const keep = () => {
    isKept.current = true;
  };
  return { taker, keep };
}

function Listed({ found, at, run }: { found: Found[]; at: number; run: (entry: Found) => void }) {
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    list.current?.children[at]?.scrollIntoView({ block: "nearest" });
  }, [at, found]);
  return (
    <div
      ref={list}
      id="palette-list"
      role="listbox"
      aria-label="Found"
      className="mt-2 max-h-80 overflow-y-auto"
    >
      {found.map((entry, index) => (
        <div
          key={entry.id}
          id={`palette-${index}`}
          role="option"
          tabIndex={-1}
          aria-selected={index === at}
          className={`flex cursor-pointer items-baseline gap-3 px-2 py-1 ${index === at ? "bg-base-300" : ""}`}
          onMouseDown={(event) => {
            event.preventDefault();
            run(entry);
          }}
        >
          <span className={`w-24 shrink-0 text-sm ${index === at ? "" : "faint"}`}>
            {entry.kind}
          </span>
          <span className="font-semibold">{entry.name}</span>
          <span className={`min-w-0 grow truncate text-sm ${index === at ? "" : "faint"}`}>
            {entry.detail}
          </span>
          {entry.keys && <Key>{entry.keys}</Key>}
        </div>
      ))}
    </div>
  );
}
