const NUMBER = /^([+\-−]?)\s*(\d+(?:[.,]\d+)?|[.,]\d+)\s*(\p{L}*|%)$/u;

/**
 * Reads a number as people write it: with a point or a comma, with a minus sign of either kind, with its unit or without.
 * @param unit in which it may be given
 * @returns undefined for what is no number, or has another unit
 * @example typedNumber("1,5 dB", "dB") // 1.5
 */
export function typedNumber(typed: string, unit = ""): number | undefined {
  const [, sign, figures, given = ""] = NUMBER.exec(typed.trim()) ?? [];
  if (figures === undefined || (given !== "" && given.toLowerCase() !== unit.toLowerCase())) return undefined;
  const value = Number(figures.replace(",", "."));
  return sign === "" || sign === "+" || value === 0 ? value : -value;
}

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
