import type { ComponentProps } from "react";

const LOOKS = {
  /** A thing to do. */
  plain:
    "btn btn-outline h-auto min-h-[1.72rem] shrink px-2.5 py-[0.2rem] text-left font-normal text-[length:inherit] text-current border-current/45 not-disabled:hover:bg-current/10 not-disabled:hover:text-current disabled:text-current disabled:opacity-55 disabled:border-current/45 disabled:bg-transparent",
  /** The one thing a form is for. */
  primary: "btn btn-primary",
  /** A thing to do in a line of text. */
  text: "link inline-flex min-h-[1.72rem] items-center underline-offset-2 disabled:cursor-default disabled:opacity-55",
  /** A computed figure, which opens its working. */
  figure:
    "link inline cursor-help text-left font-[650] decoration-dotted decoration-1 underline-offset-[3px] not-disabled:hover:text-primary disabled:cursor-default disabled:opacity-55",
  /** A word of the trade, which opens its meaning. */
  term: "term inline",
  /** A whole drawn thing that can be pressed; its looks are its own. */
  drawn: "cursor-pointer",
} as const;

/** A link within the page's text, for what is an address and no button. */
export const LINK = LOOKS.text;

/** Everything that is pressed. */
export function Button({
  look = "plain",
  className = "",
  type = "button",
  ...rest
}: ComponentProps<"button"> & { look?: keyof typeof LOOKS }) {
  return <button type={type} className={`${LOOKS[look]} ${className}`} {...rest} />;
}
