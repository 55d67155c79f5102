import type { ReactNode } from "react";
import { usePlanTools } from "./context";
import { useNewItem, type NewItem } from "./useNewItem";
import { Button } from "../kit/Button";
import { Problem } from "../kit/Problem";

/** Adds an item to a list of the plan. */
export function AddItem({
  children,
  className = "",
  ...item
}: NewItem & { children: ReactNode; className?: string }) {
  const { mayWrite } = usePlanTools();
  const { problem, add } = useNewItem();
  if (!mayWrite) return null;
  return (
    <>
      <Button look="text" className={className} data-path={item.path} onClick={() => add(item)}>
        {children}
      </Button>
      <Problem of={problem} />
    </>
  );
}
