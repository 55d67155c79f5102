/** How far long work is. */
export function Progress({ label, done, of }: { label: string; done: number; of: number }) {
  return (
    <progress
      className="progress progress-primary w-full rounded-none"
      aria-label={label}
      value={done}
      max={of}
    >
      {`${done} of ${of}`}
    </progress>
  );
}
