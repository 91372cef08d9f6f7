/** Text for XML, as content and in attributes. What XML 1.0 has no way to write, control characters and halves of pairs, becomes the sign for what cannot be shown. */
export function escapedXml(text: string): string {
  return text
    .replace(UNWRITABLE, '\uFFFD')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;');
}

/** All but the characters of W3C, Extensible Markup Language 1.0, 2.2. */
const UNWRITABLE = /[^\t\n\r\u{20}-\u{D7FF}\u{E000}-\u{FFFD}\u{10000}-\u{10FFFF}]/gu;
