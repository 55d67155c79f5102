import type { Term } from "../api/client";
import { valueText } from "../kit/format";
import { useSnapshot } from "./context";
import { Table } from "../kit/Table";

type How = NonNullable<Term["how"]>;

/** What stands before the first term that another was made of, and before the others. */
const SIGNS: Record<How, [string, string]> = {
  given: ["", ""],
  sum: ["", "+"],
  difference: ["", "−"],
  product: ["", "×"],
  quotient: ["", "÷"],
  power: ["", "to the power of"],
  rest: ["1 −", ""],
  least: ["", "or, if less,"],
  most: ["", "or, if more,"],
  "rounded up": ["", "in steps of"],
  "at least once": ["at least one of", "in"],
  law: ["", ""],
};

interface Row {
  term: Term;
  sign: string;
  depth: number;
}

/** The tree as lines, each term above those that it was made of. */
function rowsOf(parent: Term, depth: number): Row[] {
  return (parent.of ?? []).flatMap((term, index) => [
    { term, depth, sign: SIGNS[parent.how ?? "given"][index ? 1 : 0] },
    ...rowsOf(term, depth + 1),
  ]);
}

/** The terms of a figure; those that one was made of stand under it, with what joins them. */
export function TermsTable({ terms }: { terms: Term }) {
  const { document } = useSnapshot();
  return (
    <Table>
      <tbody>
        {rowsOf(terms, 0).map(({ term, sign, depth }, index) => (
          <tr key={index}>
            <td style={{ paddingLeft: `${depth * 0.9}rem` }}>
              {sign && <span className="faint">{sign} </span>}
              {term.label}
              {term.how === "law" && <span className="faint block text-sm">{term.formula}</span>}
            </td>
            <td className={`num ${depth === 0 ? "font-semibold" : ""}`}>
              {valueText(term.value, term.unit, document.currency)}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
