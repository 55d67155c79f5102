import type { ReactNode } from "react";

/** Something to know that is no fault, with what can be done about it. */
export function Notice({ children, className = "" }: { children: ReactNode; className?: string }) {
  return (
    <div
      role="status"
      className={`alert flex justify-between gap-4 rounded-none border-0 border-l-4 border-primary bg-base-200 px-4 py-2 text-base ${className}`}
    >
      {children}
    </div>
  );
}

/** While something is worked out. */
export function Waiting({ children, className = "" }: { children: ReactNode; className?: string }) {
  return <p className={`faint ${className}`}>{children}</p>;
}
