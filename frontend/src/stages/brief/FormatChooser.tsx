import { useMutation } from "@tanstack/react-query";
import { useEffect, useId, useRef, useState } from "react";

import { asContent, client, dataOf, type FormatChoice } from "../../api/client";
import { Button } from "../../kit/Button";
import { FilesDrop } from "../../kit/FileDrop";
import { Behind } from "../../kit/Fold";
import { rateText } from "../../kit/format";
import { Input } from "../../kit/Input";
import { comboboxOf, Listbox, useChoice } from "../../kit/Listbox";
import { Waiting } from "../../kit/Notice";
import { Problem } from "../../kit/Problem";
import { useLate } from "../../kit/useLate";
import { usePlanTools } from "../../plan/context";
import { useAsked } from "../../plan/useAsked";

/** A format that was chosen: one of the plan by its id, or what makes a new one. */
export interface Chosen {
  id: string;
  given: Record<string, unknown>;
}

interface Props {
  label: string;
  onChoose: (format: Chosen) => void;
  onClose: () => void;
}

interface FormatsFound {
  choices: FormatChoice[];
  sentence: string;
}

/** A footage format by typing, by rate, from the open standards' classes, or from a clip. */
export function FormatChooser({ label, onChoose, onClose }: Props) {
  return (
    <div className="my-1 w-full border-l-4 border-primary pl-3">
      <Typed label={label} onChoose={onChoose} onClose={onClose} />
      <div className="flex flex-wrap items-baseline gap-x-4">
        <Behind title="From a clip of your own" className="text-sm">
          <Probed onRead={(given) => onChoose({ id: "", given })} />
        </Behind>
        <Button look="text" className="text-sm" onClick={onClose}>
          Leave it
        </Button>
      </div>
    </div>
  );
}

/** The field and what the words in it may mean; arrows choose, Enter takes, Escape leaves. */
function Typed({ label, onChoose, onClose }: Props) {
  const id = useId();
  const field = useRef<HTMLInputElement>(null);
  const [typed, setTyped] = useState("");
  useEffect(() => field.current?.focus(), []);
  const { choices, sentence, isCurrent } = useFormats(typed.trim());
  const take = (choice: FormatChoice | undefined) =>
    choice && onChoose({ id: choice.id, given: choice.given });
  const { at, first, onKeyDown } = useChoice({
    count: choices.length,
    onEnter: (chosen) => isCurrent && take(choices[chosen]),
    onEscape: onClose,
  });
  return (
    <>
      <Input
        ref={field}
        className="w-full max-w-96"
        {...comboboxOf(id, at)}
        aria-label={label}
        aria-describedby={`${id}-said`}
        placeholder="4k 10 bit 422 400, or 220 Mb/s, or a class"
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          first();
        }}
        onKeyDown={onKeyDown}
      />
      <p id={`${id}-said`} role="status" className="faint text-sm">
        {choices.length ? "" : sentence}
      </p>
      <Listbox
        id={id}
        label="Formats"
        entries={choices}
        at={at}
        keyOf={(choice) => `${choice.id} ${choice.name}`}
        onTake={take}
        className="max-h-64 overflow-y-auto"
        entryLook="grid grid-cols-[minmax(0,1fr)_auto] gap-x-3 py-[0.15rem]"
      >
        {(choice, faint) => (
          <>
            <span>
              {choice.name}{" "}
              <span className={`text-sm ${faint}`}>
                {[choice.source, ...(choice.assumed ?? [])].join(", ")}
              </span>
            </span>
            <span className="font-semibold whitespace-nowrap">{rateText(choice.bytes_per_s)}</span>
          </>
        )}
      </Listbox>
    </>
  );
}

/** What typed words may mean; until the answer is there it is the one before. */
function useFormats(typed: string) {
  const asked = useLate(typed);
  const answer = useAsked<FormatsFound>(["formats", asked], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/formats", {
      params,
      body: { ...question, text: asked },
    }),
  );
  const { choices = [], sentence } = answer.data ?? {};
  return { choices, sentence, isCurrent: asked === typed && !answer.isPlaceholderData };
}

/** A format as ffprobe measured it on clips of one kind. */
export function Probed({ onRead }: { onRead: (given: Record<string, unknown>) => void }) {
  const { studio } = usePlanTools();
  const probe = useMutation({
    mutationFn: (files: File[]) =>
      dataOf(
        client.POST("/api/studios/{studio}/probe", {
          params: { path: { studio } },
          body: { file: files.map(asContent) },
        }),
      ),
    onSuccess: ({ format }) => onRead({ ...format, id: undefined }),
  });
  return (
    <>
      <FilesDrop onFiles={probe.mutate}>
        Drop what ffprobe printed about your own clips, several of one kind together, or choose the
        files:
      </FilesDrop>
      <code className="faint mt-1 block text-xs">
        ffprobe -v error -of json -show_format -show_streams -show_packets CLIP
      </code>
      {probe.isPending && <Waiting>Reading …</Waiting>}
      <Problem of={probe.error} />
    </>
  );
}
