/** So many of something in words: “1 lane”, “3 lanes”. */
export function counted(n: number, word: string): string {
  return `${n} ${word}${n === 1 ? '' : 's'}`;
}
