/** Numbers names from 0 on. @example numbered(["kick", "snare"]) // { kick: 0, snare: 1 } */
export function numbered<Name extends string>(names: readonly Name[]): Readonly<Record<Name, number>> {
  return Object.fromEntries(names.map((name, index) => [name, index])) as Record<Name, number>;
}

/** Values by step of a bar, several rows of them in one array: many small ones cost more than what is counted in them. */
export class BarRows {
  private readonly values: Float64Array;

  constructor(
    rows: number,
    readonly barSteps: number,
  ) {
    this.values = new Float64Array(rows * barSteps);
  }

  /** @param step of the bar */
  add(row: number, step: number, value: number): void {
    this.values[row * this.barSteps + step]! += value;
  }

  at(row: number, step: number): number {
    return this.values[row * this.barSteps + step]!;
  }

  /** Adds up what lies so many steps after a bar line, 0 <= line < steps of a bar. @param steps each less than those of a bar */
  sumFrom(row: number, line: number, steps: readonly number[]): number {
    const start = row * this.barSteps;
    let sum = 0;
    for (let index = 0; index < steps.length; index++) {
      const step = line + steps[index]!;
      sum += this.values[start + (step < this.barSteps ? step : step - this.barSteps)]!;
    }
    return sum;
  }

  total(row: number): number {
    let sum = 0;
    for (let step = 0; step < this.barSteps; step++) sum += this.values[row * this.barSteps + step]!;
    return sum;
  }

  takeRoots(): void {
    for (let index = 0; index < this.values.length; index++) this.values[index] = Math.sqrt(this.values[index]!);
  }
}
