import { useEffect } from "react";

import { Button } from "./Button";
import { cutAtTerm, labelOf, showTerms, termsIn, useOpenTerms } from "./terms";

/**
 * A text whose first term of the trade opens its meaning. Within a label or what is itself pressed the words
 * answer to the pointer, and F1 in the field does the same; elsewhere they are a button.
 */
export function Terms({ of, within = false }: { of: string; within?: boolean }) {
  const cut = cutAtTerm(of);
  if (!cut) return of;
  return (
    <>
      {cut.before}
      {within ? (
        <span className="term" data-term>
          {cut.words}
        </span>
      ) : (
        <Button look="term" data-term>
          {cut.words}
        </Button>
      )}
      {cut.after}
    </>
  );
}

const LONGEST_LABEL = 90;

/** Opens what is pressed or asked for with F1, wherever it stands; Escape and going on close it. */
function useTermKeys(): void {
  useEffect(() => {
    const close = () => showTerms([], null);
    const onClick = (event: MouseEvent) => {
      const words = event.target instanceof Element && event.target.closest("[data-term]");
      if (!words) return close();
      event.preventDefault();
      showTerms(termsIn(words.textContent), words);
    };
    const onKey = (event: KeyboardEvent) => {
      if (event.key === "Escape") close();
      if (event.key !== "F1") return;
      const element = window.document.activeElement;
      const terms = termsIn(labelOf(element).slice(0, LONGEST_LABEL));
      if (!terms.length) return;
      event.preventDefault();
      showTerms(terms, element);
    };
    window.addEventListener("click", onClick);
    window.addEventListener("keydown", onKey);
    window.addEventListener("focusin", close);
    window.addEventListener("focusout", close);
    window.addEventListener("scroll", close, true);
    return () => {
      window.removeEventListener("click", onClick);
      window.removeEventListener("keydown", onKey);
      window.removeEventListener("focusin", close);
      window.removeEventListener("focusout", close);
      window.removeEventListener("scroll", close, true);
    };
  }, []);
}

const WIDTH = 340;
const ROOM = 150;

/** The two sentences of the terms that were asked for, beside where they were. */
export function TermCard() {
  useTermKeys();
  const open = useOpenTerms();
  const style = open && {
    left: Math.max(8, Math.min(open.left, window.innerWidth - WIDTH - 8)),
    ...(open.bottom + ROOM < window.innerHeight
      ? { top: open.bottom + 6 }
      : { bottom: window.innerHeight - open.bottom + 28 }),
    maxWidth: Math.min(WIDTH, window.innerWidth - 16),
  };
  return (
    <div aria-live="polite" data-testid="term">
      {open && style && (
        <div
          className="fixed z-40 border-2 border-primary bg-base-200 px-3 py-2 text-base text-base-content print:hidden"
          style={style}
        >
          {open.terms.map((each) => (
            <p key={each.term}>
              <b className="font-semibold">{each.term}</b>: {each.what} {each.why}
            </p>
          ))}
        </div>
      )}
    </div>
  );
}
