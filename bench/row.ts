/** One line of the table of budgets. */
export interface Row {
  readonly what: string;
  readonly budget: string;
  readonly measured: string;
  readonly kept: boolean;
}
