import { useState } from "react";

import { Button } from "../../kit/Button";
import { Problem } from "../../kit/Problem";
import type { FieldName } from "../../kit/quantity";
import { usePlanTools } from "../../plan/context";
import { Choice, type Option } from "../../plan/fields";
import { addedId, useAskNewItem } from "../../plan/useNewItem";
import { useTaken } from "../../plan/useTaken";
import { FormatChooser, type Chosen } from "./FormatChooser";

/** Which format: one that the plan has, or another that is found here and joins it. */
export function FormatField({
  field,
  path,
  item,
  formats,
}: {
  field: FieldName;
  path: string;
  /** Whose format it is, for those who do not see it. */
  item: string;
  formats: readonly Option[];
}) {
  const { mayWrite } = usePlanTools();
  const [isOpen, setOpen] = useState(false);
  const { problem, choose } = useFormatOf(path);
  return (
    <>
      <Choice bare field={field} path={path} label={`${item}: format`} options={formats} />
      {mayWrite && !isOpen && (
        <Button look="text" className="text-sm" onClick={() => setOpen(true)}>
          other<span className="sr-only"> format for {item}</span> …
        </Button>
      )}
      {isOpen && (
        <FormatChooser
          label={`${item}: find a format`}
          onClose={() => setOpen(false)}
          onChoose={(chosen) => {
            setOpen(false);
            choose(chosen);
          }}
        />
      )}
      <Problem of={problem} />
    </>
  );
}

const FORMATS = "catalogue/formats";

/** Sets a format, which is added to the plan first where it is new. */
function useFormatOf(path: string) {
  const { session } = usePlanTools();
  const { problem, take } = useTaken();
  const ask = useAskNewItem();
  const choose = ({ id, given }: Chosen) => {
    if (id) return session.set(path, id);
    take(async () => {
      const patch = await ask({ path: FORMATS, given });
      return [...patch, { op: "set" as const, path, value: addedId(patch, FORMATS) }];
    });
  };
  return { problem, choose };
}
