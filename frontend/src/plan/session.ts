/**
 * An open plan at work: asks the server while numbers move, saves after a pause, merges and never loses
 * what was typed. It holds no rule of the trade; it knows which values are asked, saved and refused.
 */

import type { Clash, Evaluation, Operation, PlanOut, Problem } from "../api/client";
import { Failure } from "../api/client";
import { applied, valueAt, withOperation } from "./patch";

export const SAVE_AFTER_MS = 800;

/** What the session needs of the outside; the browser's is in `connection.ts`. */
export interface Connection {
  fetchPlan(): Promise<PlanOut>;
  fetchHead(): Promise<number>;
  evaluate(
    base: number,
    patch: Operation[],
    seq: number,
  ): Promise<{ seq: number; evaluation: Evaluation }>;
  save(base: number, patch: Operation[], leaving: boolean): Promise<PlanOut & { merged?: boolean }>;
  step(which: "undo" | "redo"): Promise<PlanOut>;
  restore(revision: number): Promise<PlanOut>;
}

export interface Snapshot {
  plan: PlanOut;
  /** The document with everything accepted so far. */
  document: PlanOut["document"];
  evaluation: Evaluation;
  /** The head and the verdict on it that are shown: what a question about them is kept under. */
  shown: readonly [head: number, sequence: number];
  /** Refused entries by path: what was typed, and the sentence that says what is right. */
  refused: ReadonlyMap<string, { operation: Operation | null; sentence: string }>;
  clashes: Clash[];
  status: "saved" | "changed" | "saving" | "offline";
  notice: string;
}

export class PlanSession {
  private base: PlanOut;
  private accepted: Operation[] = [];
  private rejected: Operation[] = [];
  /** Those of the accepted that are being saved. */
  private sent: readonly Operation[] = [];
  private refused = new Map<string, { operation: Operation | null; sentence: string }>();
  private evaluation: Evaluation;
  /** How many verdicts have been shown; with the head it names the state that the page shows. */
  private verdicts = 0;
  private clashes: Clash[] = [];
  private notice = "";
  private offline = false;
  /** The last save met a server that could not answer at the moment. */
  private triesAgain = false;
  private seq = 0;
  private asking = false;
  private askAgain = false;
  private saving: Promise<void> | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private listeners = new Set<() => void>();
  private current: Snapshot;

  constructor(
    private readonly connection: Connection,
    plan: PlanOut,
  ) {
    this.base = plan;
    this.evaluation = plan.evaluation;
    this.notice = plan.notes.join(" ");
    this.current = this.build();
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  snapshot = (): Snapshot => this.current;

  /** What every question to the server carries: the plan as it stands here, saved or not. */
  get question(): { base: number; patch: Operation[]; seq: number } {
    return { base: this.head, patch: this.accepted, seq: 0 };
  }

  get head(): number {
    return this.base.head;
  }

  /** Change something; the verdict follows, and a save after a pause. */
  change(...operations: Operation[]): void {
    // What was refused is tried again along with the new entry: it may fit now. What is on its way to the server
    // is not taken back here any more: an item that is added by it is removed by a change of its own.
    const onItsWay = this.accepted.filter((op) => this.sent.includes(op));
    let next = [...this.accepted.filter((op) => !this.sent.includes(op)), ...this.rejected];
    for (const operation of operations) next = withOperation(next, operation);
    this.accepted = [...onItsWay, ...next];
    this.rejected = [];
    this.refused = new Map();
    this.publish();
    this.goOn();
  }

  set(path: string, value: unknown): void {
    const now = this.refused.get(path)?.operation?.value ?? valueAt(this.current.document, path);
    if (value !== now) this.change({ op: "set", path, value });
  }

  /** Save now what is accepted; resolves when it is done. */
  async flush(leaving = false): Promise<void> {
    this.stopTimer();
    // Whoever waited may find that somebody else who waited has begun to save, or that more is being asked.
    while (this.saving ?? (this.asking && !leaving)) await (this.saving ?? this.settled());
    if (!this.accepted.length || this.clashes.length) return;
    this.saving = this.save(leaving).finally(() => {
      this.saving = null;
      this.publish();
    });
    this.publish();
    await this.saving;
  }

  async step(which: "undo" | "redo"): Promise<void> {
    await this.goBack(() => this.connection.step(which));
  }

  async restore(revision: number): Promise<void> {
    await this.goBack(() => this.connection.restore(revision));
  }

  /** Look whether somebody else has saved, and take their state where nothing of ours is open. */
  async follow(): Promise<void> {
    if (this.saving || this.asking || this.clashes.length) return;
    try {
      const head = await this.connection.fetchHead();
      const isBack = this.offline;
      this.offline = false;
      if (head > this.base.head && !this.accepted.length) await this.takeTheirs();
      else if (isBack || this.isLeftUnsaved) await this.flush();
    } catch {
      this.offline = true;
    }
    this.publish();
  }

  /** Settle clashes: for each path, whether our value stays. Theirs is in the head already. */
  async resolve(keepsMine: (path: string) => boolean): Promise<void> {
    const clashing = this.clashes;
    const mine = this.accepted.filter((op) => {
      const clash = clashing.find((c) => touches(op, c.path));
      return !clash || keepsMine(clash.path);
    });
    this.clashes = [];
    this.accepted = [];
    await this.replaceWith(() => this.connection.fetchPlan());
    // What was typed while their state came is newer than what clashed.
    const typed = this.accepted;
    this.accepted = [];
    if (!mine.length && !typed.length) return;
    this.change(...mine, ...typed);
    await this.flush();
  }

  dismissNotice(): void {
    this.notice = "";
    this.publish();
  }

  close(): void {
    this.stopTimer();
    this.listeners.clear();
  }

  /** Their state, with what was refused of ours tried on it: it may fit now. */
  private async takeTheirs(): Promise<void> {
    let standing: Operation[] = [];
    const isTaken = await this.replaceWith(async () => {
      const theirs = await this.connection.fetchPlan();
      standing = this.rejected; // as it stands now: somebody may have typed while it came
      return theirs;
    });
    if (!isTaken) return;
    const added = standing.filter((op) => op.op === "add");
    const there = applied(this.base.document, added);
    const ours = standing.filter((op) => op.op === "add" || valueAt(there, op.path) !== undefined);
    if (ours.length || this.accepted.length) this.change(...ours);
    if (ours.length < standing.length) {
      this.notice = "Somebody removed what you were filling in; your refused entry went with it.";
    }
  }

  /** An earlier state takes the place of this one, once all of ours is in the history. */
  private async goBack(fetch: () => Promise<PlanOut>): Promise<void> {
    await this.flush();
    if (!this.accepted.length) {
      await this.replaceWith(fetch);
      return;
    }
    this.notice = this.clashes.length
      ? "Settle what clashes first, then go back."
      : "Your last changes are not saved yet. Go back once they are.";
    this.publish();
  }

  /** Takes another state over; false where it could not be had, or where a later one is here already. */
  private async replaceWith(fetch: () => Promise<PlanOut>): Promise<boolean> {
    try {
      const plan = await fetch();
      // A save that was under way meanwhile has brought a later state already.
      if (plan.head < this.base.head) return false;
      this.adopt(plan);
      this.rejected = [];
      this.refused = new Map();
      this.notice = "";
      this.publish();
      return true;
    } catch (error) {
      this.notice = error instanceof Failure ? error.message : "";
      if (!(error instanceof Failure)) throw error;
      this.publish();
      return false;
    }
  }

  private adopt(plan: PlanOut): void {
    this.base = plan;
    this.show(plan.evaluation);
    this.seq += 1; // answers to older questions are stale now
  }

  private show(evaluation: Evaluation): void {
    this.evaluation = evaluation;
    this.verdicts += 1;
  }

  /** One question at a time; numbers that moved meanwhile are asked together afterwards. */
  private async ask(): Promise<void> {
    if (this.asking) {
      this.askAgain = true;
      return;
    }
    this.asking = true;
    try {
      do {
        this.askAgain = false;
        await this.askOnce();
      } while (this.askAgain);
    } finally {
      this.asking = false;
      this.publish();
    }
  }

  private async askOnce(): Promise<void> {
    const seq = ++this.seq;
    const patch = this.accepted;
    try {
      const answer = await this.connection.evaluate(this.base.head, patch, seq);
      this.offline = false;
      if (answer.seq !== this.seq || this.askAgain) return;
      this.show(answer.evaluation);
      this.publish();
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      if (error.status === 422 && error.envelope && patch === this.accepted) {
        if (this.setAside(error.envelope.problems, patch)) this.askAgain = this.accepted.length > 0;
        if (!this.accepted.length) this.show(this.base.evaluation);
      } else if (error.status === 0) this.offline = true;
      else if (error.status !== 422) this.notice = error.message;
    }
  }

  /** Put what the server refused aside, beside its field; true where something was put aside. */
  private setAside(problems: Problem[], asked: readonly Operation[]): boolean {
    // The entry in the very field first: an item just added need not go with what was typed into it.
    const inField = asked.filter(
      (op) => op.op === "set" && problems.some((p) => p.field === op.path),
    );
    const culprits = inField.length
      ? inField
      : asked.filter((op) => problems.some((p) => touches(op, p.field)));
    // A rule across fields names a field we did not touch: the last entry brought it about.
    const refused = culprits.length ? culprits : asked.slice(-1);
    // What was typed over meanwhile is not what was refused any more.
    const isTypedOver = (op: Operation) =>
      this.accepted.some(
        (other) => other.op === "set" && other.path === op.path && !asked.includes(other),
      );
    const aside = refused.filter((op) => !isTypedOver(op));
    for (const operation of aside) {
      const problem = problems.find((p) => touches(operation, p.field)) ?? problems[0];
      const path = operation.op === "set" ? operation.path : (problem?.field ?? operation.path);
      this.refused.set(path, { operation, sentence: problem?.sentence ?? "" });
    }
    this.accepted = this.accepted.filter((op) => !refused.includes(op));
    this.rejected = [...this.rejected, ...aside];
    this.publish();
    return aside.length > 0;
  }

  private async save(leaving: boolean): Promise<void> {
    const sent = this.accepted;
    this.sent = sent;
    try {
      const plan = await this.connection.save(this.base.head, sent, leaving);
      this.accepted = this.accepted.filter((op) => !sent.includes(op));
      this.base = plan;
      this.offline = false;
      this.triesAgain = false;
      if (plan.merged) this.notice = "Somebody else's changes came in with yours.";
      if (this.accepted.length) void this.ask();
      else this.show(plan.evaluation);
    } catch (error) {
      if (!(error instanceof Failure)) throw error;
      if (error.status === 409 && error.envelope) this.clashes = error.envelope.clashes ?? [];
      else if (error.status === 0) this.offline = true;
      else if (error.status === 422 && error.envelope) {
        this.setAside(error.envelope.problems ?? [], sent);
        if (this.accepted.length) this.goOn();
      } else {
        this.notice = error.message;
        this.triesAgain = isPassing(error.status);
      }
    } finally {
      this.sent = [];
    }
  }

  /** Ask about what is left, and save it after the pause. */
  private goOn(): void {
    void this.ask();
    this.saveSoon();
  }

  private saveSoon(): void {
    this.stopTimer();
    this.timer = setTimeout(() => void this.flush(), SAVE_AFTER_MS);
  }

  private stopTimer(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
  }

  /** Whether a save failed for a reason that passes, and none is due. */
  private get isLeftUnsaved(): boolean {
    return this.triesAgain && this.accepted.length > 0 && this.timer === undefined;
  }

  private settled(): Promise<void> {
    return new Promise((resolve) => {
      const stop = this.subscribe(() => {
        stop();
        resolve();
      });
    });
  }

  private publish(): void {
    this.current = this.build();
    for (const listener of [...this.listeners]) listener();
  }

  private build(): Snapshot {
    let status: Snapshot["status"] = "saved";
    if (this.offline) status = "offline";
    else if (this.saving) status = "saving";
    else if (this.accepted.length) status = "changed";
    return {
      plan: this.base,
      document: applied(this.base.document, this.accepted),
      evaluation: this.evaluation,
      shown: [this.head, this.verdicts],
      refused: new Map(this.refused),
      clashes: this.clashes,
      status,
      notice: this.notice,
    };
  }
}

/** Whether the same request may well succeed in a few seconds. */
const isPassing = (status: number) => status === 429 || status >= 500;

/** Whether an operation is about the field at `path`, or about the item around or below it. */
function touches(operation: Operation, path: string): boolean {
  const item = operation.op === "add" ? (operation.value as { id?: string } | null)?.id : undefined;
  const target = item ? `${operation.path}/${item}` : operation.path;
  return path === target || path.startsWith(`${target}/`) || target.startsWith(`${path}/`);
}
