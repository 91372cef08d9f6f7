/** The fonts of the page as rules for a style sheet, files and all, so that a picture shows them wherever it is opened. */

/** Read font files, as data addresses. */
const readFiles = new Map<string, Promise<string>>();

/**
 * Rules of the faces that a text needs: those of the named families with any of its letters.
 * @param families as `font-family` names them
 */
export async function fontRules(families: ReadonlySet<string>, text: string): Promise<string> {
  const faces = [...document.styleSheets]
    .flatMap((sheet) => [...sheet.cssRules])
    .filter((rule) => rule instanceof CSSFontFaceRule)
    .filter(({ style }) => families.has(unquoted(style.getPropertyValue('font-family'))))
    .filter(({ style }) => holdsAny(style.getPropertyValue('unicode-range'), text));
  const rules = await Promise.all(
    faces.map(async ({ style, parentStyleSheet }) => {
      const address = /url\("?([^")]+)"?\)/.exec(style.getPropertyValue('src'))?.[1];
      if (!address) return '';
      const file = await dataAddress(new URL(address, parentStyleSheet?.href ?? document.baseURI).href);
      const weight = style.getPropertyValue('font-weight') || 'normal';
      return `@font-face{font-family:"${unquoted(style.getPropertyValue('font-family'))}";font-weight:${weight};src:url(${file}) format("woff2");}`;
    }),
  );
  return rules.join('');
}

/** Families that a list of them names. */
export function familiesIn(list: string): string[] {
  return list.split(',').map((name) => unquoted(name.trim()));
}

function unquoted(name: string): string {
  return name.replace(/^["']|["']$/g, '');
}

/** Whether a range such as `U+0-FF, U+131` has any letter of a text. */
export function holdsAny(range: string, text: string): boolean {
  if (range.trim() === '') return true;
  const spans = range.split(',').map((each) => {
    const [from, to] = each.trim().replace(/^U\+/i, '').split('-');
    // A question mark stands for any digit.
    return [from!.replaceAll('?', '0'), to ?? from!.replaceAll('?', 'F')].map((code) => parseInt(code, 16));
  });
  return [...text].some((letter) => {
    const code = letter.codePointAt(0)!;
    return spans.some(([from, to]) => code >= from! && code <= to!);
  });
}

function dataAddress(url: string): Promise<string> {
  const known = readFiles.get(url);
  if (known) return known;
  const read = fetch(url)
    .then((answer) => {
      if (!answer.ok) throw new Error('A font of the figure could not be read.');
      return answer.blob();
    })
    .then(
      (blob) =>
        new Promise<string>((resolve, reject) => {
          const reader = new FileReader();
          reader.onload = () => resolve(reader.result as string);
          reader.onerror = () => reject(new Error('A font of the figure could not be read.'));
          reader.readAsDataURL(blob);
        }),
    );
  readFiles.set(url, read);
  read.catch(() => readFiles.delete(url));
  return read;
}
