import { useEffect, useRef, useState, type KeyboardEvent, type ReactNode } from "react";

/** Which entry of a list is chosen while one types: arrows choose, Enter takes, Escape leaves. */
export function useChoice({
  count,
  onEnter,
  onEscape,
}: {
  count: number;
  /** With -1 where there is nothing to take. */
  onEnter: (at: number) => void;
  onEscape: () => void;
}) {
  const [chosen, setChosen] = useState(0);
  const at = Math.min(chosen, count - 1);
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Escape") onEscape();
    else if (event.key === "ArrowDown") setChosen(Math.min(at + 1, count - 1));
    else if (event.key === "ArrowUp") setChosen(Math.max(at - 1, 0));
    else if (event.key === "Enter") onEnter(at);
    else return;
    event.preventDefault();
  };
  return { at, first: () => setChosen(0), onKeyDown };
}

/** What a field needs to say which entry of the list beside it is chosen. */
export const comboboxOf = (id: string, at: number) =>
  ({
    role: "combobox",
    "aria-expanded": "true",
    "aria-controls": `${id}-list`,
    "aria-activedescendant": at >= 0 ? `${id}-${at}` : undefined,
  }) as const;

/** The entries of a field's list, of which the one `at` is chosen and kept in sight. */
export function Listbox<E>({
  id,
  label,
  entries,
  at,
  keyOf,
  onTake,
  className,
  entryLook,
  children,
}: {
  id: string;
  label: string;
  entries: readonly E[];
  at: number;
  keyOf: (entry: E) => string;
  onTake: (entry: E) => void;
  className: string;
  entryLook: string;
  children: (entry: E, faint: string) => ReactNode;
}) {
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    list.current?.children[at]?.scrollIntoView({ block: "nearest" });
  }, [at, entries]);
  return (
    <div ref={list} id={`${id}-list`} role="listbox" aria-label={label} className={className}>
      {entries.map((entry, index) => (
        <div
          key={keyOf(entry)}
          id={`${id}-${index}`}
          role="option"
          tabIndex={-1}
          aria-selected={index === at}
          className={`cursor-pointer px-2 ${entryLook} ${index === at ? "bg-base-300" : ""}`}
          onMouseDown={(event) => {
            event.preventDefault();
            onTake(entry);
          }}
        >
          {children(entry, index === at ? "" : "faint")}
        </div>
      ))}
    </div>
  );
}
