import type { KeyboardEvent } from "react";

const STEPS: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1 };

/** Which of several is shown; arrow keys go from one to the next. */
export function Tabs<Id extends string>({
  label,
  tabs,
  chosen,
  choose,
  className = "",
}: {
  label: string;
  tabs: readonly { id: Id; name: string }[];
  chosen: Id;
  choose: (id: Id) => void;
  className?: string;
}) {
  const onKeyDown = (event: KeyboardEvent<HTMLDivElement>) => {
    const step = STEPS[event.key];
    if (!step) return;
    event.preventDefault();
    const at = tabs.findIndex((tab) => tab.id === chosen) + step;
    const next = (at + tabs.length) % tabs.length;
    const tab = tabs[next];
    if (tab) choose(tab.id);
    event.currentTarget.querySelectorAll("button")[next]?.focus();
  };
  return (
    <div
      role="tablist"
      tabIndex={-1}
      aria-label={label}
      className={`tabs tabs-border ${className}`}
      onKeyDown={onKeyDown}
    >
      {tabs.map((tab) => (
        <button
          key={tab.id}
          type="button"
          role="tab"
          aria-selected={tab.id === chosen}
          tabIndex={tab.id === chosen ? 0 : -1}
          className="tab text-base text-inherit! aria-selected:font-semibold"
          onClick={() => choose(tab.id)}
        >
          {tab.name}
        </button>
      ))}
    </div>
  );
}
