import { LINK } from "../kit/Button";
import { usePlanTools } from "./context";

/** The page for whoever pays, of the saved plan: to be read and printed, kept, or changed as text. */
export function OwnerPageLinks() {
  const { studio, planId } = usePlanTools();
  const at = `/api/studios/${studio}/plans/${planId}/owner-page`;
  return (
    <p className="flex flex-wrap gap-x-3">
      <span>One page for the owner:</span>
      <a className={LINK} href={`${at}.html`} target="_blank" rel="noreferrer">
        read and print
      </a>
      <a className={LINK} href={`${at}.pdf`} target="_blank" rel="noreferrer">
        PDF
      </a>
      <a className={LINK} href={`${at}.md`}>
        Markdown
      </a>
    </p>
  );
}
