/** A key of the keyboard. */
export function Key({ children }: { children: string }) {
  return (
    <kbd className="kbd h-5 min-w-5 border-current/40 bg-transparent px-1.5 text-[0.86rem] text-inherit">
      {children}
    </kbd>
  );
}
