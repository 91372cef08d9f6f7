export { shownNumber, shownPercent } from '@vole/core';

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
