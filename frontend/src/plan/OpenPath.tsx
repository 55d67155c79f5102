import { Button } from "../kit/Button";
import { Key } from "../kit/Key";
import { STAGE_TITLES } from "../studio/stageTitles";
import { usePlanTools, useSnapshot } from "./context";
import { useGoTo } from "./place";

/** What nobody has said yet, along the stages: each leads to where it is said. Gone when all is said. */
export function OpenPath() {
  const { open_work } = useSnapshot().evaluation;
  const { mayWrite } = usePlanTools();
  const goTo = useGoTo();
  if (!open_work.length || !mayWrite) return null;
  return (
    <nav
      aria-label="Still open"
      className="flex flex-wrap items-baseline gap-x-4 border-b border-base-300 bg-base-200 px-5 py-1 print:hidden"
    >
      <span className="state-open font-semibold">
        <span aria-hidden="true">◇</span> Still open <Key>o</Key>
      </span>
      <ol className="contents">
        {open_work.map((each) => (
          <li key={each.words}>
            <span className="faint text-sm">{STAGE_TITLES.get(each.stage)}: </span>
            <Button look="text" onClick={() => goTo(each.path)}>
              {each.words}
            </Button>
          </li>
        ))}
      </ol>
    </nav>
  );
}
