"use client";

import type { Pass } from "@/core/beat/beat";
import { takesOf } from "@/core/beat/edits/takes";
import { useOpenPattern, useWorkspaceState } from "../workspace/use-workspace";
import { PassRow } from "./pass-row";
import styles from "./passes.module.scss";
import { PickUpRow } from "./pick-up-row";
import { lazyView } from "../common/lazy-view";

/** Only where there are takes. */
const TakesRow = lazyView(() => import("./takes-row"));

/** The stack of passes, the newest on top; takes of one recording are one entry, where the newest of them is. */
export function PassesPanel() {
  const pattern = useOpenPattern();
  const openPassId = useWorkspaceState(({ recordings, patternRef }) => recordings[patternRef.partId]?.passId);
  const shown = pattern.passes.filter((pass) => pass.take === undefined || takesOf(pattern, pass.take).at(-1) === pass);
  const entry = (pass: Pass) => {
    if (pass.take === undefined)
      return (
        <PassRow key={pass.id} pass={pass} open={pass.id === openPassId} lowest={pass.id === pattern.passes[0]!.id} />
      );
    const takes = takesOf(pattern, pass.take);
    return <TakesRow key={`take ${pass.take}`} takes={takes} open={takes.some(({ id }) => id === openPassId)} />;
  };
  return (
    <>
      <PickUpRow />
      {shown.length === 0 && (
        <p className={styles.empty}>Nothing recorded yet. Press Enter, wait for the count-in, and play.</p>
      )}
      <ol className={styles.stack} reversed>
        {shown.toReversed().map(entry)}
      </ol>
    </>
  );
}
