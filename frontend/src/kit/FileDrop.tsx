import { useEffect, useRef, type ReactNode } from "react";

/** A place to drop one file or choose it; the words inside say what to bring. */
export function FileDrop({
  children,
  onFile,
  accept = ".json,application/json",
}: {
  children: ReactNode;
  accept?: string;
  onFile: (file: File) => void;
}) {
  const place = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const element = place.current;
    if (!element) return;
    const over = (event: DragEvent) => event.preventDefault();
    const drop = (event: DragEvent) => {
      event.preventDefault();
      const file = event.dataTransfer?.files[0];
      if (file) onFile(file);
    };
    element.addEventListener("dragover", over);
    element.addEventListener("drop", drop);
    return () => {
      element.removeEventListener("dragover", over);
      element.removeEventListener("drop", drop);
    };
  }, [onFile]);
  return (
    <div ref={place} className="border border-dashed border-base-content/50 p-3">
      <label>
        {children}
        <input
          type="file"
          accept={accept}
          className="mt-2 block file:mr-3 file:rounded-xs file:border file:border-base-content/50 file:px-2 file:py-0.5"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) onFile(file);
            event.target.value = "";
          }}
        />
      </label>
    </div>
  );
}
