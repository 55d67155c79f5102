import { useState, type SubmitEvent } from "react";

import type { StockTools } from "./useStock";

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
        <input
          id="quick-entry"
          className="field grow"
          placeholder="4x 2TB ssd sata 2022 drawer-3 65%"
          autoComplete="off"
          maxLength={200}
          value={text}
          aria-invalid={tools.addQuick.isError || undefined}
          onChange={(event) => setText(event.target.value)}
        />
        <button
          type="submit"
          className="plain-button"
          disabled={!text.trim() || tools.addQuick.isPending}
        >
          Add
        </button>
      </div>
      {tools.addQuick.isError && (
        <p className="problem" role="alert">
          {tools.addQuick.error.message}
        </p>
      )}
    </form>
  );
}
