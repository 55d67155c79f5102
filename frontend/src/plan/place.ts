/** Going to a place of the plan: the view that shows it, and the focus on it. */

import { useCallback, useEffect } from "react";
import { useLocation, useNavigate } from "react-router";

import { usePlanTools } from "./context";
import { viewOf } from "./viewOf";

interface Going {
  at: string;
  /** When it was gone there, by the page's clock. */
  since: number;
}

/** The place that was gone to, and a key that is another at each going. */
export function usePlace(): Going & { key: string } {
  const { state, key } = useLocation() as { state: Partial<Going> | null; key: string };
  return { at: state?.at ?? "", since: state?.since ?? 0, key };
}

let lastGesture = 0;
let isOurs = false;
const note = (event: Event) => {
  lastGesture = event.timeStamp;
};
window.addEventListener("keydown", note, true);
window.addEventListener("pointerdown", note, true);
// Speech, a screen reader and a browser's filler go into a field without a key.
window.addEventListener(
  "focusin",
  (event) => {
    if (!isOurs && (event.target as Element).matches("input, select, textarea")) note(event);
  },
  true,
);

/** Goes to a place of the plan. */
export function useGoTo(): (path: string) => void {
  const { studio, planId } = usePlanTools();
  const navigate = useNavigate();
  return useCallback(
    (path) =>
      void navigate(`/s/${studio}/plans/${planId}/${viewOf(path)}`, {
        state: { at: path, since: performance.now() } satisfies Going,
      }),
    [studio, planId, navigate],
  );
}

/** A slow server may take so long to bring what was added. */
const PATIENCE_MS = 10_000;
const NEARBY_AFTER_MS = 500;

/** Sets the focus on the place that was gone to, as soon as it is on the page. */
export function useFocusAtPlace(): void {
  const { at, since, key } = usePlace();
  useEffect(() => (at ? focusSoon(at, since) : undefined), [at, since, key]);
}

/**
 * Sets the focus on a place, or on the first field in it, as soon as it is on the page; the answer stops that.
 * What it stands in is gone to meanwhile.
 */
export function focusSoon(path: string, since = performance.now()): () => void {
  const started = performance.now();
  let frame = 0;
  let isNear = false;
  const look = () => {
    // Whoever has gone on meanwhile is not called back.
    if (lastGesture > since) return;
    const waited = performance.now() - started;
    const found = exactly(path) ?? firstIn(path);
    if (found) {
      focusOn(found);
      return;
    }
    const near = !isNear && waited > NEARBY_AFTER_MS ? around(path) : null;
    if (near) focusOn(near);
    isNear ||= near !== null;
    if (waited < PATIENCE_MS) frame = requestAnimationFrame(look);
  };
  frame = requestAnimationFrame(look);
  return () => cancelAnimationFrame(frame);
}

const exactly = (path: string) => document.querySelector<HTMLElement>(`[data-path="${path}"]`);

const firstIn = (path: string) => document.querySelector<HTMLElement>(`[data-path^="${path}/"]`);

/** The nearest place that this one stands in and that is on the page. */
function around(path: string): HTMLElement | null {
  for (let here = path; here.includes("/"); here = here.slice(0, here.lastIndexOf("/"))) {
    const found = exactly(here) ?? firstIn(here);
    if (found) return found;
  }
  return null;
}

/** Opens what the element is folded away in, and gives it the focus. */
function focusOn(element: HTMLElement): void {
  for (
    let fold = element.closest("details");
    fold;
    fold = fold.parentElement?.closest("details") ?? null
  )
    fold.open = true;
  isOurs = true;
  element.focus();
  isOurs = false;
  element.scrollIntoView({ block: "center" });
}
