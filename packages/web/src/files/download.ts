/** Hands a file over to the browser, which saves it. */
export function download(name: string, content: Blob): void {
  const url = URL.createObjectURL(content);
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

export function downloadText(name: string, text: string, type = 'text/plain'): void {
  download(name, new Blob([text], { type: `${type};charset=utf-8` }));
}

/** The name of a file about something: small letters, digits and dashes. */
export function fileName(title: string, ending: string): string {
  return `${
    title
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-|-$/g, '') || 'vole-parade'
  }.${ending}`;
}
