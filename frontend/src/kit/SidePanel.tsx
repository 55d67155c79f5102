import { useEffect, useRef, type ReactNode } from "react";
import { Button } from "./Button";

/** Slides over the right edge; takes the focus, gives it back, closes with Escape. Not modal. */
export function SidePanel({
  title,
  onClose,
  children,
}: {
  title: string;
  onClose: () => void;
  children: ReactNode;
}) {
  const panel = useRef<HTMLElement>(null);
  useEffect(() => {
    const before = window.document.activeElement;
    panel.current?.focus();
    return () => {
      if (before instanceof HTMLElement && before.isConnected) before.focus();
    };
  }, [title]);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => event.key === "Escape" && onClose();
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [onClose]);
  return (
    <aside
      ref={panel}
      className="absolute inset-y-0 right-0 z-20 w-[min(25rem,100%)] overflow-y-auto border-l-2 border-primary bg-base-200 px-5 py-4 focus-visible:outline-none print:hidden"
      tabIndex={-1}
      aria-label={title}
    >
      <div className="mb-3 flex items-baseline justify-between gap-4">
        <h2>{title}</h2>
        <Button onClick={onClose}>Close</Button>
      </div>
      {children}
    </aside>
  );
}
