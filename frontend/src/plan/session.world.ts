/** A server in memory for the tests of an open plan: it keeps history, merges, refuses and clashes as the real one. */

import type { Clash, Evaluation, Operation, PlanOut } from "../api/client";
import { Failure } from "../api/client";
import { applied, valueAt } from "./patch";
import type { Connection } from "./session";

type Document = PlanOut["document"];

/** A pool with two numbers; numbers below zero are refused. */
export interface Pool {
  id: string;
  mine: number;
  theirs: number;
}

const idOf = (op: Operation) => (op.value as { id?: string } | null)?.id ?? "";

export const path = (pool: string, field: "mine" | "theirs") => `plan/pools/${pool}/${field}`;

export class World {
  /** Every state there was; the head is the last. */
  readonly history: Document[];
  /** Every patch that was taken, by head. */
  readonly saved: { head: number; patch: Operation[] }[] = [];
  /** What a request meets instead of an answer, while it is set. */
  failure: number | null = null;
  /** What nobody has said yet. */
  openWork: { words: string; path: string }[] = [];
  /** What answers wait for; at once where nothing is said. */
  delay: <T>(answer: () => Promise<T>, what: string) => Promise<T> = (answer) => answer();

  constructor(pools: Pool[] = [{ id: "main", mine: 1, theirs: 1 }]) {
    this.history = [{ plan: { name: "T", pools } } as unknown as Document];
  }

  get head(): number {
    return this.history.length;
  }

  get document(): Document {
    return this.at(this.head);
  }

  private at(head: number): Document {
    const document = this.history[head - 1];
    if (!document) throw new Error(`no revision ${head}`);
    return document;
  }

  planOut(): PlanOut {
    const evaluation = this.verdictOf(this.document);
    return {
      head: this.head,
      document: this.document,
      evaluation,
      notes: [],
    } as unknown as PlanOut;
  }

  /** What somebody else saves. */
  saveTheirs(operation: Operation): void {
    this.history.push(applied(this.document, [operation]));
  }

  readonly connection: Connection = {
    fetchPlan: () => this.answer("plan", () => this.planOut()),
    fetchHead: () => this.answer("head", () => this.head),
    evaluate: (base, patch, seq) =>
      this.answer("verdict", () => {
        const document = applied(this.at(base), patch);
        this.refuse(document, patch);
        return { seq, evaluation: this.verdictOf(document) };
      }),
    save: (base, patch) =>
      this.answer("save", () => {
        const clashes = patch.flatMap((op) => this.clashOf(base, op));
        if (clashes.length) {
          const said = { sentence: "", problems: [], clashes, head: this.head };
          throw new Failure(409, { code: "clash", ...said });
        }
        const taken = patch.some(
          (op) => op.op === "add" && valueAt(this.document, `${op.path}/${idOf(op)}`) !== undefined,
        );
        if (taken) throw new Failure(422, this.refusal(patch[0]?.path ?? "", "This id is taken."));
        const document = applied(this.document, patch);
        this.refuse(document, patch);
        const merged = base < this.head;
        this.history.push(document);
        this.saved.push({ head: this.head, patch });
        return { ...this.planOut(), merged };
      }),
    step: () =>
      this.answer("step", () => {
        if (this.head > 1) this.history.push(this.at(this.head - 1));
        return this.planOut();
      }),
    restore: (revision) =>
      this.answer("restore", () => {
        this.history.push(this.at(revision));
        return this.planOut();
      }),
  };

  private verdictOf(document: Document): Evaluation {
    return { of: document, open_work: this.openWork } as unknown as Evaluation;
  }

  private async answer<T>(what: string, make: () => T): Promise<T> {
    await Promise.resolve();
    return this.delay(async () => {
      await Promise.resolve();
      if (this.failure !== null) throw new Failure(this.failure, null);
      return make();
    }, what);
  }

  private refusal(field: string, sentence: string) {
    const problem = { field, value: "", accepted: "", sentence };
    return { code: "refused" as const, sentence, problems: [problem], clashes: [] };
  }

  private refuse(document: Document, patch: readonly Operation[]): void {
    const pools = (document as unknown as { plan: { pools: Pool[] } }).plan.pools;
    const problems = pools.flatMap((pool) =>
      (["mine", "theirs"] as const)
        .filter((field) => pool[field] < 0)
        .map((field) => ({
          field: path(pool.id, field),
          value: String(pool[field]),
          accepted: "0 or more",
          sentence: `${field} must be 0 or more.`,
        })),
    );
    if (problems.length && patch.length)
      throw new Failure(422, { code: "refused", sentence: "", problems, clashes: [] });
  }

  /** A field that somebody else has changed since `base`, to another value than ours. */
  private clashOf(base: number, op: Operation): Clash[] {
    if (op.op !== "set") return [];
    const [was, is] = [valueAt(this.at(base), op.path), valueAt(this.document, op.path)];
    if (was === is || is === op.value || is === undefined) return [];
    return [{ path: op.path, label: op.path, base: was, mine: op.value, theirs: is }] as Clash[];
  }
}
