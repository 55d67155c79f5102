import type { LineOut } from "../../api/client";

type Understood = LineOut["line"]["understood"][number];
type Assumed = NonNullable<Understood["assumed"]>[number];

/** The line with what was assumed said in words, and the value in them that one would change. */
export function insertion(line: string, part: Understood, left: Assumed): [string, number, number] {
  const isWhole = part.start === part.end;
  const at = isWhole ? line.trimEnd().length : part.end;
  const between = isWhole ? (at ? ", " : "") : " ";
  const from = at + between.length;
  return [
    line.slice(0, at) + between + left.words + line.slice(at),
    from + left.value_start,
    from + left.value_end,
  ];
}
