/** Why the system could not read, write or make something, in words: by its codes. */
const WORDS: ReadonlyMap<string, string> = new Map([
  ['ENOSPC', 'there is no room left on the disk'],
  ['EDQUOT', 'there is no room left for you on the disk'],
  ['EFBIG', 'it would be larger than a file may be there'],
  ['ENOENT', 'the folder that it is to be in is not there'],
  ['ENOTDIR', 'what should be its folder is a file'],
  ['EEXIST', 'there is a file of that name'],
  ['EACCES', 'you may not do that there'],
  ['EPERM', 'you may not do that there'],
  ['EROFS', 'that disk can only be read'],
  ['ENAMETOOLONG', 'its name is too long'],
  ['EMFILE', 'too many files are open'],
  ['EIO', 'the disk does not answer as it should'],
]);

/** The code that the system gives. */
export function codeOf(error: unknown): string {
  return (error as NodeJS.ErrnoException).code ?? String(error);
}

export function whyNot(error: unknown): string {
  const code = codeOf(error);
  return WORDS.get(code) ?? code;
}
