/** The odds' scale: powers of ten from certain down to one in a billion. */
export const POWERS = 9;

/** Where odds lie between never (0, at one in a billion or less) and certain (1). */
export const rungOf = (odds: number): number =>
  odds <= 0 ? 0 : Math.min(Math.max(1 + Math.log10(odds) / POWERS, 0), 1);

/** "1 in 1,000" of a power of ten. */
export const powerText = (power: number): string =>
  power === 0 ? "certain" : `1 in ${(10 ** power).toLocaleString("en-GB")}`;
