import type { Term } from "../api/client";
import { valueText } from "../kit/format";
import { useSnapshot } from "./context";

/** What stands before a term of a sum, product and so on; the first of them stands alone. */
const SIGNS: Partial<Record<Term["how"], string>> = {
  sum: "+",
  difference: "−",
  product: "×",
  quotient: "÷",
  power: "to the power of",
};

interface Row {
  term: Term;
  sign: string;
  depth: number;
}

/** The tree as lines, each term above those that it was made of. */
function rowsOf(parent: Term, depth: number): Row[] {
  return (parent.of ?? []).flatMap((term, index) => [
    { term, depth, sign: index > 0 ? (SIGNS[parent.how ?? "given"] ?? "") : "" },
    ...rowsOf(term, depth + 1),
  ]);
}

/** The terms of a figure; one that was made of others says how, and they stand under it. */
export function TermsTable({ terms }: { terms: Term }) {
  const { document } = useSnapshot();
  return (
    <table className="ledger">
      <tbody>
        {rowsOf(terms, 0).map(({ term, sign, depth }, index) => (
          <tr key={index}>
            <td style={{ paddingLeft: `${depth * 0.9}rem` }}>
              {sign && <span className="faint">{sign} </span>}
              {term.label}
              {(term.of?.length ?? 0) > 0 && depth < 2 && (
                <span className="faint block text-sm">{term.formula}</span>
              )}
            </td>
            <td className={`num ${depth === 0 ? "font-semibold" : ""}`}>
              {valueText(term.value, term.unit, document.currency)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
