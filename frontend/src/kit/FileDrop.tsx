import { useEffect, useRef, type ReactNode } from "react";
import { FileInput } from "./Input";

/** A place to drop one file or choose it; the words inside say what to bring. */
export function FileDrop({
  children,
  onFile,
  accept,
}: {
  children: ReactNode;
  accept?: string;
  onFile: (file: File) => void;
}) {
  return (
    <FilesDrop accept={accept} multiple={false} onFiles={([file]) => file && onFile(file)}>
      {children}
    </FilesDrop>
  );
}

/** The same for several files at once. */
export function FilesDrop({
  children,
  onFiles,
  accept = ".json,application/json",
  multiple = true,
}: {
  children: ReactNode;
  accept?: string | undefined;
  multiple?: boolean;
  onFiles: (files: File[]) => void;
}) {
  const place = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const element = place.current;
    if (!element) return;
    const over = (event: DragEvent) => event.preventDefault();
    const drop = (event: DragEvent) => {
      event.preventDefault();
      const files = [...(event.dataTransfer?.files ?? [])];
      if (files.length) onFiles(files);
    };
    element.addEventListener("dragover", over);
    element.addEventListener("drop", drop);
    return () => {
      element.removeEventListener("dragover", over);
      element.removeEventListener("drop", drop);
    };
  }, [onFiles]);
  return (
    <div ref={place} className="border border-dashed border-base-content/50 p-3">
      <label>
        {children}
        <FileInput
          accept={accept}
          multiple={multiple}
          className="mt-2 flex"
          onChange={(event) => {
            const files = [...(event.target.files ?? [])];
            if (files.length) onFiles(files);
            event.target.value = "";
          }}
        />
      </label>
    </div>
  );
}
