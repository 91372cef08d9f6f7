/** What is kept under a name that a modeler gave: never what every object has, such as `constructor`. */
export function ownValue<T>(values: Readonly<Record<string, T>>, name: string): T | undefined {
  return Object.hasOwn(values, name) ? values[name] : undefined;
}
