/** How many of something wait; said in full to those who do not see where it stands. */
export function Count({ of, what }: { of: number; what: string }) {
  if (!of) return null;
  return (
    <span
      className="badge badge-outline h-5 min-w-5 border-current/50 px-1.5 text-[0.86rem] font-semibold"
      title={`${of} ${what}`}
    >
      {of}
      <span className="sr-only"> {what}</span>
    </span>
  );
}
