import type { ComponentProps, ReactNode } from "react";
import { Terms } from "./Terms";

/** Figures under heads; `num` on a cell sets its digits under each other. */
export function Table({
  className = "",
  isEven = false,
  ...rest
}: ComponentProps<"table"> & {
  /** Columns of equal width, whatever stands in them. */
  isEven?: boolean;
}) {
  return <table className={`table ${isEven ? "table-fixed" : ""} ${className}`} {...rest} />;
}

/**
 * The heads of a table's columns. One that begins with `#` stands over figures, one that begins with `-` is for
 * those who hear the table.
 */
export function Heads({ of }: { of: readonly string[] }) {
  return (
    <thead>
      <tr>
        {of.map((head) => (
          <th key={head} scope="col" className={head.startsWith("#") ? "num" : ""}>
            <Head>{head}</Head>
          </th>
        ))}
      </tr>
    </thead>
  );
}

/** Heads that are more than a word each. */
export const TableHead = (rest: ComponentProps<"thead">) => <thead {...rest} />;

function Head({ children }: { children: string }): ReactNode {
  if (children.startsWith("#")) return <Terms of={children.slice(1)} />;
  if (children.startsWith("-")) return <span className="sr-only">{children.slice(1)}</span>;
  return <Terms of={children} />;
}
