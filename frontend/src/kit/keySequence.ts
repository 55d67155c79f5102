/** How long a prefix, or a number that could still go on, waits for its next key. */
export const NEXT_KEY_MS = 1_500;

/** Held for another key: a digit may need one of them. */
const HELD = new Set(["Shift", "AltGraph", "CapsLock"]);

type Actions = Readonly<Record<string, () => void>>;

/**
 * Keys one after the other: "g4" is g, then 4. Where "g10" is a command too, "g1" waits for the digit that may
 * follow; any other key, or the time, says that it was meant.
 */
export class KeySequence {
  private typed = "";
  private timer: ReturnType<typeof setTimeout> | undefined;

  /** `actions` is asked at every key, so that a command that changes meanwhile loses no key. */
  constructor(private readonly actions: () => Actions) {}

  /** Takes a key; true where it was one of ours. */
  take(key: string): boolean {
    if (HELD.has(key)) return false;
    if (this.typed && /^\d$/.test(key)) return this.digit(key);
    this.settle();
    if (key === "g" && this.goesOn("g")) {
      this.wait("g");
      return true;
    }
    return this.run(key);
  }

  /** Forgets what was begun; nothing of it happens any more. */
  forget(): void {
    clearTimeout(this.timer);
    this.typed = "";
  }

  private digit(key: string): boolean {
    const name = this.typed + key;
    if (this.goesOn(name)) {
      this.wait(name);
      return true;
    }
    this.forget();
    return this.run(name);
  }

  /** Does what a number that waited says. */
  private settle(): void {
    const name = this.typed;
    this.forget();
    if (name) this.run(name);
  }

  private wait(name: string): void {
    clearTimeout(this.timer);
    this.typed = name;
    this.timer = setTimeout(() => this.settle(), NEXT_KEY_MS);
  }

  /** Whether a longer number than this is a command too. */
  private goesOn(name: string): boolean {
    return Object.keys(this.actions()).some((each) => {
      const rest = each.startsWith(name) ? each.slice(name.length) : "";
      return /^\d+$/.test(rest);
    });
  }

  private run(name: string): boolean {
    const action = this.actions()[name];
    action?.();
    return action !== undefined;
  }
}
