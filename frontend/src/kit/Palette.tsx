import { useEffect, useRef, useState } from "react";
import { Input } from "./Input";
import { Key } from "./Key";
import { comboboxOf, Listbox, useChoice } from "./Listbox";

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
  const { at, first, onKeyDown } = useFound({ found, isLooking, open, onClose });
  return (
    <search
      aria-label="Find"
      className="absolute inset-x-0 top-0 z-30 mx-auto w-[40rem] max-w-full border-2 border-primary bg-base-200 p-3"
    >
      <Input
        ref={input}
        className="w-full"
        {...comboboxOf("palette", at)}
        aria-label="Find anything"
        placeholder="A seat, format, pool, drive, bay, hop, finding, figure, rule, plan, device or command"
        value={typed}
        onChange={(event) => {
          onType(event.target.value);
          first();
        }}
        onKeyDown={onKeyDown}
        onBlur={(event) => !event.relatedTarget && onClose()}
      />
      <Listbox
        id="palette"
        label="Found"
        entries={found}
        at={at}
        keyOf={(entry) => entry.id}
        onTake={open}
        className="mt-2 max-h-80 overflow-y-auto"
        entryLook="flex items-baseline gap-3 py-1"
      >
        {(entry, faint) => (
          <>
            <span className={`w-24 shrink-0 text-sm ${faint}`}>{entry.kind}</span>
            <span className="font-semibold">{entry.name}</span>
            <span className={`min-w-0 grow truncate text-sm ${faint}`}>{entry.detail}</span>
            {entry.keys && <Key>{entry.keys}</Key>}
          </>
        )}
      </Listbox>
      {found.length === 0 && (
        <p className="faint px-2 py-1" role="status">
          {isLooking ? "Looking …" : "Nothing by that name."}
        </p>
      )}
    </search>
  );
}

/** Which of what was found is chosen. Who presses Enter before the answer is there means the first of it. */
function useFound({
  found,
  isLooking,
  open,
  onClose,
}: Pick<Props, "found" | "isLooking" | "onClose"> & { open: (entry: Found) => void }) {
  const [isHasty, setHasty] = useState(false);
  const choice = useChoice({
    count: found.length,
    onEnter: (at) => {
      const entry = found[at];
      if (entry) open(entry);
      else setHasty(isLooking);
    },
    onEscape: onClose,
  });
  const awaited = isHasty && !isLooking ? found[0] : undefined;
  useEffect(() => {
    if (awaited) open(awaited);
  });
  const first = () => {
    choice.first();
    setHasty(false);
  };
  return { ...choice, first };
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
