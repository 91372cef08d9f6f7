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

/** A time of computing, in words. */
export function shownSeconds(seconds: number): string {
  if (seconds < 1) return 'under 1 s';
  if (seconds < 90) return `${Math.round(seconds)} s`;
  if (seconds < 5400) return `${Math.round(seconds / 60)} min`;
  return `${(seconds / 3600).toFixed(1)} h`;
}

export function shownBytes(bytes: number): string {
  if (bytes < 1e5) return `${(bytes / 1e3).toFixed(0)} kB`;
  return bytes < 1e9 ? `${(bytes / 1e6).toFixed(1)} MB` : `${(bytes / 1e9).toFixed(1)} GB`;
}

/** When something happened: hours and minutes. @param time milliseconds since 1970 */
export function clockTime(time: number): string {
  return new Date(time).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
}

/** A share in whole percent: `71 %`. */
export function shownPercent(share: number): string {
  return `${Math.round(100 * share)} %`;
}
