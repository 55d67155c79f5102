import { dateText, moneyText } from "../../kit/format";
import { useSnapshot } from "../../plan/context";

/** What the price list says of a class, where no price was typed. */
export function ListPrice({
  typed,
  id,
}: {
  typed: string | number | null | undefined;
  id: string | undefined;
}) {
  const { evaluation } = useSnapshot();
  const price = id ? evaluation.prices[id] : undefined;
  if (typed !== null && typed !== undefined) return null;
  if (!price) return null;
  return (
    <p className="faint text-right text-sm">
      {moneyText(price.amount, price.currency)} each by the list of {dateText(price.priced_on)}
    </p>
  );
}
