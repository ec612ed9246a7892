/** Of a form's values, those that are others than when it was opened: only these are sent. */
export function onlyChanged<T extends object>(values: T, opened: { [K in keyof T]?: unknown }): Partial<T> {
  const differs = (Object.keys(values) as (keyof T)[]).filter(
    (name) => JSON.stringify(values[name]) !== JSON.stringify(opened[name]),
  );
  return Object.fromEntries(differs.map((name) => [name, values[name]])) as Partial<T>;
}
