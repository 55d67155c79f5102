import { useEffect, useRef, useState, type SubmitEvent } from "react";

import { client, type Finding, type TriedRemedy } from "../api/client";
import { valueText } from "../kit/format";
import { SidePanel } from "../kit/SidePanel";
import { usePlanTools, useSnapshot } from "./context";
import { useGoTo } from "./place";
import { useAsked } from "./useAsked";
import { Button } from "../kit/Button";
import { Input } from "../kit/Input";

const SEVERITY: Record<Finding["severity"], { mark: string; word: string; state: string }> = {
  block: { mark: "■", word: "stops the work", state: "state-short" },
  warn: { mark: "▲", word: "costs you later", state: "state-tight" },
  note: { mark: "○", word: "good to know", state: "state-enough" },
};

/** What is wrong or surprising, how much, why, and what to do about it. */
export function FindingsPanel({ at, onClose }: { at?: string | undefined; onClose: () => void }) {
  const { evaluation } = useSnapshot();
  const tried = useTried();
  return (
    <SidePanel title="Findings" onClose={onClose}>
      {evaluation.findings.length === 0 && <p>Nothing stands out in this plan.</p>}
      <ul className="space-y-5">
        {evaluation.findings.map((finding) => (
          <OneFinding
            key={finding.key}
            finding={finding}
            tried={tried.get(finding.key)}
            isWanted={finding.key === at}
            onLeave={onClose}
          />
        ))}
      </ul>
    </SidePanel>
  );
}

/** What became of each finding's remedy when it was tried, by the finding's key. */
function useTried(): ReadonlyMap<string, TriedRemedy> {
  const answer = useAsked<TriedRemedy[]>(
    ["remedies"],
    ({ params, question }) =>
      client.POST("/api/studios/{studio}/plans/{plan_id}/remedies", { params, body: question }),
    { held: false },
  );
  return new Map(answer.data?.map((each) => [each.key, each]));
}

function OneFinding({
  finding,
  tried,
  isWanted,
  onLeave,
}: {
  finding: Finding;
  tried: TriedRemedy | undefined;
  isWanted: boolean;
  onLeave: () => void;
}) {
  const { session, mayWrite } = usePlanTools();
  const own = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (!isWanted) return;
    // After the panel has taken the focus and noted who had it.
    const frame = requestAnimationFrame(() => {
      own.current?.focus();
      own.current?.scrollIntoView({ block: "start" });
    });
    return () => cancelAnimationFrame(frame);
  }, [isWanted]);
  const { document } = useSnapshot();
  const { mark, word, state } = SEVERITY[finding.severity];
  const accepted = finding.accepted_reason;
  const patch = tried && !tried.against ? (tried.patch ?? []) : [];
  const isRemedied = !accepted && patch.length > 0 && mayWrite;
  return (
    <li ref={own} tabIndex={-1} className="border-l-4 border-current pl-3">
      <p className={`${state} text-sm font-semibold`}>
        <span aria-hidden="true">{mark}</span> {word}
      </p>
      <h3>{finding.title}</h3>
      <dl className="my-1 grid grid-cols-[1fr_auto] gap-x-3">
        {finding.evidence.map((piece) => (
          <div key={piece.label} className="contents">
            <dt className="faint">{piece.label}</dt>
            <dd className="text-right font-semibold">
              {valueText(piece.value, piece.unit, document.currency)}
            </dd>
          </div>
        ))}
      </dl>
      <p>{finding.why}</p>
      {accepted && (
        <p className="faint mt-1">
          Accepted{finding.accepted_by ? ` by ${finding.accepted_by}` : ""}: {accepted}
        </p>
      )}
      {!accepted && !isRemedied && (
        <ByHand words={finding.remedy.words} tried={tried} onLeave={onLeave} />
      )}
      <div className="mt-1 flex flex-wrap items-center gap-x-3">
        {isRemedied && (
          <Button onClick={() => session.change(...patch)}>{finding.remedy.words}</Button>
        )}
        {mayWrite && <Acceptance finding={finding} />}
      </div>
    </li>
  );
}

/** What no single step mends: what to do, and the field where one begins. */
function ByHand({
  words,
  tried,
  onLeave,
}: {
  words: string;
  tried: TriedRemedy | undefined;
  onLeave: () => void;
}) {
  const goTo = useGoTo();
  return (
    <p className="mt-1">
      {words}
      {tried?.against && <span className="faint"> (tried: {tried.against})</span>}{" "}
      {tried?.at && (
        <Button
          look="text"
          onClick={() => {
            onLeave();
            goTo(tried.at);
          }}
        >
          Go to {tried.label}
        </Button>
      )}
    </p>
  );
}

function Acceptance({ finding }: { finding: Finding }) {
  const { session } = usePlanTools();
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  if (finding.accepted_reason) {
    const withdraw = () =>
      session.change({ op: "remove", path: `plan/acceptances/${finding.key}` });
    return (
      <Button look="text" onClick={withdraw}>
        Take the acceptance back
      </Button>
    );
  }
  if (!open) {
    return (
      <Button look="text" onClick={() => setOpen(true)}>
        Accept with a reason
      </Button>
    );
  }
  const accept = (event: SubmitEvent) => {
    event.preventDefault();
    if (!reason.trim()) return;
    session.change({
      op: "add",
      path: "plan/acceptances",
      value: { id: finding.key, reason: reason.trim() },
    });
    setOpen(false);
  };
  return (
    <form className="mt-2 flex w-full gap-2" onSubmit={accept}>
      <Input
        className="grow"
        aria-label="Reason for accepting"
        placeholder="Why this is all right here"
        maxLength={400}
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
      <Button type="submit" disabled={!reason.trim()}>
        Accept
      </Button>
    </form>
  );
}
