import { useState } from "react";

import { client, dataOf } from "../../api/client";
import { Button } from "../../kit/Button";
import { Problem } from "../../kit/Problem";
import type { FieldName } from "../../kit/quantity";
import { usePlanTools } from "../../plan/context";
import { Choice, type Option } from "../../plan/fields";
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

/** Sets a format, which is added to the plan first where it is new. */
function useFormatOf(path: string) {
  const { session, studio, planId } = usePlanTools();
  const { problem, take } = useTaken();
  const choose = ({ id, given }: Chosen) => {
    if (id) return session.set(path, id);
    take(async () => {
      const { patch } = await dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/new-item", {
          params: { path: { studio, plan_id: planId } },
          body: { ...session.question, path: "catalogue/formats", given, after: "", media: {} },
        }),
      );
      const made = patch.find((operation) => operation.op === "add")?.value as { id: string };
      return [...patch, { op: "set" as const, path, value: made.id }];
    });
  };
  return { problem, choose };
}
