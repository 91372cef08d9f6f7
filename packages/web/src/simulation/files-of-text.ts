import type { FileMarks } from '@vole/core';

/** The files that a text names in quotes, with their marks; nothing if it names none. One that is named in a remark counts too. @param now the files of the project */
export function filesOfText(text: string, now: FileMarks): FileMarks | undefined {
  const named = Object.entries(now).filter(([name]) => text.includes(`"${name}"`));
  return named.length > 0 ? Object.fromEntries(named) : undefined;
}
