import type { Spread } from "@/core/analysis/timing-stats";
import styles from "./report.module.scss";

interface PassTableProps {
  /** No spread: none of its hits are in the loop. */
  readonly passes: readonly { readonly name: string; readonly spread: Spread | undefined }[];
}

/** How every pass was played, in figures. */
export function PassTable({ passes }: PassTableProps) {
  const figure = (value: number) => value.toFixed(1);
  return (
    <table className={styles.table}>
      <thead>
        <tr>
          <th scope="col">Pass</th>
          <th scope="col">Hits</th>
          <th scope="col">Mean, ms late</th>
          <th scope="col">Spread, ms</th>
          <th scope="col">Velocity</th>
        </tr>
      </thead>
      <tbody>
        {passes.map(({ name, spread }, index) => (
          <tr key={index}>
            <th scope="row">{name}</th>
            {spread ? (
              <>
                <td>{spread.hits}</td>
                <td>{figure(spread.meanMs)}</td>
                <td>{figure(spread.spreadMs)}</td>
                <td>{spread.meanVelocity.toFixed(0)}</td>
              </>
            ) : (
              <td colSpan={4}>no hit in the loop</td>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
