import { useState, type ReactNode } from "react";

import { Button } from "../../kit/Button";
import { Problem } from "../../kit/Problem";
import { usePlanTools } from "../../plan/context";
import { useNewItem } from "../../plan/useNewItem";
import { FormatChooser, type Chosen } from "./FormatChooser";

/** An item that is asked for its format in the same place, and is added with it. */
export interface Offered {
  path: string;
  given: Record<string, unknown>;
  words: string;
}

/** Adds items that play, shoot or write a format: which one is asked first. */
export function AddWithFormat({
  offered,
  label,
  children,
}: {
  offered: Offered[];
  label: string;
  /** What else can be added here. */
  children?: ReactNode;
}) {
  const { mayWrite } = usePlanTools();
  const [asking, setAsking] = useState<Offered | null>(null);
  const { problem, add } = useNewItem();
  if (!mayWrite) return null;
  const choose = ({ id, given }: Chosen) => {
    setAsking(null);
    if (!asking) return;
    const of = id ? { ...asking.given, format_id: id } : asking.given;
    add({ path: asking.path, given: of, media: id ? {} : given });
  };
  return (
    <>
      {offered.map((each) => (
        <Button
          key={each.words}
          look="text"
          className="my-1 mr-5"
          data-path={each.path}
          onClick={() => setAsking(each)}
        >
          {each.words}
        </Button>
      ))}
      {children}
      {asking && (
        <FormatChooser
          key={asking.words}
          label={label}
          onChoose={choose}
          onClose={() => setAsking(null)}
        />
      )}
      <Problem of={problem} />
    </>
  );
}
