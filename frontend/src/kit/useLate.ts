import { useEffect, useState } from "react";

/** A text once nobody has typed for a moment. */
export function useLate(text: string, pauseMs = 120): string {
  const [late, setLate] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setLate(text), pauseMs);
    return () => clearTimeout(timer);
  }, [text, pauseMs]);
  return late;
}
