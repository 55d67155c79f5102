import { Button } from "../../kit/Button";
import { Waiting } from "../../kit/Notice";
import { Problem } from "../../kit/Problem";
import { usePlanTools } from "../../plan/context";
import { JobStanding } from "../../plan/JobStanding";
import { isOpen } from "../../plan/useLongJob";
import type { Search } from "./useAdvice";

/** That a search is under way: how far it is where that takes long, with what ends it and goes on with it. */
export function SearchStanding({ search, words }: { search: Search | null; words: string }) {
  return search ? <LongSearch search={search} words={words} /> : <Waiting>{words}</Waiting>;
}

function LongSearch({ search, words }: { search: Search; words: string }) {
  const { mayWrite } = usePlanTools();
  const { job, step, isNobodys } = search;
  if (isNobodys)
    return (
      <p className="mt-2">
        This catalogue takes long to look through, and nobody has asked for it yet: a technician
        may.
      </p>
    );
  if (!job) return search.error ? null : <Waiting>{words}</Waiting>;
  if (job.status === "done") return null;
  const open = isOpen(job);
  return (
    <div className="mt-2 mb-3">
      {open && <Waiting>{words}</Waiting>}
      <JobStanding job={job} part="step" label="Designs looked through" />
      <Problem of={step.error} />
      {mayWrite && (
        <p className="mt-1">
          <Button
            disabled={step.isPending}
            onClick={() => step.mutate({ id: job.id, to: open ? "cancel" : "retry" })}
          >
            {open ? "Cancel the search" : "Go on with the search"}
          </Button>
        </p>
      )}
    </div>
  );
}
