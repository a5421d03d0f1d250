/**
 * Why a number is not taken, in words; undefined where it is.
 * @example numberProblem("Tempo", "1,5", 1.5, { min: 20, max: 400, unit: "BPM" }) // "Tempo goes from 20 to 400 BPM; “1,5” was not taken."
 */
export function numberProblem(
  label: string,
  typed: string,
  value: number | undefined,
  { min, max, unit = "" }: { readonly min: number; readonly max: number; readonly unit?: string | undefined },
): string | undefined {
  const shown = typed.trim().slice(0, 24);
  if (value === undefined) return `“${shown}” is no number; ${label} stays as it was.`;
  if (value >= min && value <= max) return undefined;
  return `${label} goes from ${min} to ${max}${unit && ` ${unit}`}; “${shown}” was not taken.`;
}
