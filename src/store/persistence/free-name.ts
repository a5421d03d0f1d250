/** @example freeName("Tide 2", ["Tide", "Tide 2"]) // "Tide 3" */
export function freeName(wanted: string, taken: readonly string[]): string {
  const base = wanted.replace(/ \d+$/, "");
  const names = new Set(taken);
  if (!names.has(base)) return base;
  let number = 2;
  while (names.has(`${base} ${number}`)) number++;
  return `${base} ${number}`;
}
