import { useMutation } from "@tanstack/react-query";
import { useEffect, useId, useRef, useState, type KeyboardEvent } from "react";

import { asContent, client, dataOf, type FormatChoice } from "../../api/client";
import { Button } from "../../kit/Button";
import { FilesDrop } from "../../kit/FileDrop";
import { Behind } from "../../kit/Fold";
import { rateText } from "../../kit/format";
import { Input } from "../../kit/Input";
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
  const [wanted, setWanted] = useState(0);
  useEffect(() => field.current?.focus(), []);
  const asked = useLate(typed.trim());
  const answer = useAsked<FormatsFound>(["formats", asked], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/formats", {
      params,
      body: { ...question, text: asked },
    }),
  );
  const isCurrent = asked === typed.trim() && !answer.isPlaceholderData;
  const choices = answer.data?.choices ?? [];
  const at = Math.min(wanted, choices.length - 1);
  const take = (choice: FormatChoice | undefined) =>
    choice && onChoose({ id: choice.id, given: choice.given });
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Escape") onClose();
    else if (event.key === "ArrowDown") setWanted(Math.min(at + 1, choices.length - 1));
    else if (event.key === "ArrowUp") setWanted(Math.max(at - 1, 0));
    else if (event.key === "Enter") {
      if (isCurrent) take(choices[at]);
    } else return;
    event.preventDefault();
  };
  return (
    <>
      <Input
        ref={field}
        className="w-full max-w-96"
        role="combobox"
        aria-label={label}
        aria-expanded="true"
        aria-controls={`${id}-list`}
        aria-activedescendant={choices[at] ? `${id}-${at}` : undefined}
        aria-describedby={`${id}-said`}
        placeholder="4k 10 bit 422 400, or 220 Mb/s, or a class"
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          setWanted(0);
        }}
        onKeyDown={onKeyDown}
      />
      <p id={`${id}-said`} role="status" className="faint text-sm">
        {choices.length ? "" : answer.data?.sentence}
      </p>
      <Choices id={id} choices={choices} at={at} take={take} />
    </>
  );
}

function Choices({
  id,
  choices,
  at,
  take,
}: {
  id: string;
  choices: FormatChoice[];
  at: number;
  take: (choice: FormatChoice) => void;
}) {
  return (
    <div id={`${id}-list`} role="listbox" aria-label="Formats" className="max-h-64 overflow-y-auto">
      {choices.map((choice, index) => (
        <div
          key={`${choice.id} ${choice.name}`}
          id={`${id}-${index}`}
          role="option"
          tabIndex={-1}
          aria-selected={index === at}
          className={`grid cursor-pointer grid-cols-[minmax(0,1fr)_auto] gap-x-3 px-2 py-[0.15rem] ${index === at ? "bg-base-300" : ""}`}
          onMouseDown={(event) => {
            event.preventDefault();
            take(choice);
          }}
        >
          <span>
            {choice.name}{" "}
            <span className={`text-sm ${index === at ? "" : "faint"}`}>
              {[choice.source, ...(choice.assumed ?? [])].join(", ")}
            </span>
          </span>
          <span className="font-semibold whitespace-nowrap">{rateText(choice.bytes_per_s)}</span>
        </div>
      ))}
    </div>
  );
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
