import { useState, type SubmitEvent } from "react";

import type { StockTools } from "./useStock";
import { Input } from "../../kit/Input";
import { Button } from "../../kit/Button";
import { Problem } from "../../kit/Problem";

/** A line as one types it at the shelf; it stays where it was not understood. */
export function QuickEntry({ tools }: { tools: StockTools }) {
  const [text, setText] = useState("");
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    if (text.trim()) tools.addQuick.mutate(text, { onSuccess: () => setText("") });
  };
  return (
    <form className="mt-3" onSubmit={submit}>
      <label htmlFor="quick-entry" className="font-semibold">
        Type what lies there
      </label>
      <div className="mt-1 flex gap-2">
        <Input
          id="quick-entry"
          className="grow"
          placeholder="4x 2TB ssd sata 2022 drawer-3 65%"
          maxLength={200}
          value={text}
          aria-invalid={tools.addQuick.isError || undefined}
          onChange={(event) => setText(event.target.value)}
        />
        <Button type="submit" disabled={!text.trim() || tools.addQuick.isPending}>
          Add
        </Button>
      </div>
      <Problem of={tools.addQuick.error} />
    </form>
  );
}
