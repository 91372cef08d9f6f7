/** Numbers for people: sensible digits, thin spaces between thousands, a true minus, and a word for empty. */
export function shownNumber(value: number, digits = 3): string {
  if (Number.isNaN(value)) return 'none';
  if (!Number.isFinite(value)) return value > 0 ? 'no limit' : 'no limit below';
  const size = Math.abs(value);
  if (size >= 1e15 || (size > 0 && size < 1e-4)) return `${value < 0 ? '\u2212' : ''}${size.toExponential(digits - 1)}`;
  const text =
    size >= 1000 || Number.isInteger(value) ? Math.round(size).toString() : String(Number(size.toPrecision(digits)));
  const [whole, fraction] = text.split('.') as [string, string | undefined];
  const grouped = size >= 1e4 ? whole.replace(/\B(?=(\d{3})+$)/g, '\u2009') : whole;
  return `${value < 0 ? '\u2212' : ''}${grouped}${fraction ? `.${fraction}` : ''}`;
}

/** A share in whole percent: `71 %`. */
export function shownPercent(share: number): string {
  return `${Math.round(100 * share)} %`;
}
