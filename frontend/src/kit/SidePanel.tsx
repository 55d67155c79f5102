import { useEffect, useRef, type ReactNode } from "react";

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
    <aside ref={panel} className="side" tabIndex={-1} aria-label={title}>
      <div className="mb-3 flex items-baseline justify-between gap-4">
        <h2>{title}</h2>
        <button type="button" className="plain-button" onClick={onClose}>
          Close
        </button>
      </div>
      {children}
    </aside>
  );
}
