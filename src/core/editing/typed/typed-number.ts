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
