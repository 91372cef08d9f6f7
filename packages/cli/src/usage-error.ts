/** A wrong call, or a file that cannot be read or written: said in one line, exit code 2. */
export class UsageError extends Error {}
