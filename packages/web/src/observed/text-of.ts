/** A file as text. Bytes that are no UTF-8 are read as Windows Latin-1, as spreadsheets write it. */
export function textOf(bytes: ArrayBuffer): string {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}
