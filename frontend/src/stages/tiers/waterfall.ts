/** Where each bar of a waterfall begins and ends. */

export interface Step {
  step: string;
  bytes: number;
}

export interface Bar extends Step {
  from: number;
  to: number;
}

/** The first step stands on the ground, each later one hangs from the level before; empty steps go. */
export function bars(steps: readonly Step[], plannable: number): Bar[] {
  let level = 0;
  const drawn: Bar[] = [];
  for (const { step, bytes } of steps) {
    const next = level + bytes;
    if (bytes !== 0)
      drawn.push({ step, bytes, from: Math.min(level, next), to: Math.max(level, next) });
    level = next;
  }
  return [...drawn, { step: "plannable", bytes: plannable, from: 0, to: plannable }];
}
