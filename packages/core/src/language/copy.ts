/** A copy of a piece of a syntax tree, so that one formula can be checked anew, with other types, at each of its uses. */
export function copyOf<T>(node: T): T {
  if (Array.isArray(node)) return node.map((item: unknown) => copyOf(item)) as T;
  if (node === null || typeof node !== 'object') return node;
  return Object.fromEntries(Object.entries(node).map(([key, value]) => [key, copyOf(value as unknown)])) as T;
}
