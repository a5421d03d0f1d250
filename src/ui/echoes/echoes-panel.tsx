"use client";

import { useState } from "react";
import { NumberField } from "../common/number-field";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { EchoRow } from "./echo-row";
import styles from "./echoes.module.scss";

/** More are kept; these are the ones that somebody still looks for. */
const SHOWN = 40;

/** What was played, recorded or not, phrase by phrase, the newest on top. */
export function EchoesPanel() {
  const workspace = useWorkspace();
  const echoes = useWorkspaceState((state) => state.echoes);
  const patience = useWorkspaceState((state) => state.echoPatience);
  const [opened, setOpened] = useState<number>();
  const [asking, setAsking] = useState(false);
  return (
    <>
      <p className={styles.says}>
        Everything you play is remembered in this browser, and never leaves it. End brings back the newest.
      </p>
      {echoes.length === 0 && <p className={styles.says}>Nothing played yet.</p>}
      <ol className={styles.list} reversed>
        {echoes
          .toReversed()
          .slice(0, SHOWN)
          .map((echo) => (
            <EchoRow
              key={echo.id}
              echo={echo}
              open={opened === echo.id}
              onOpen={() => setOpened(opened === echo.id ? undefined : echo.id)}
            />
          ))}
      </ol>
      {echoes.length > 0 && (
        <div className={styles.foot}>
          <NumberField
            label="Pause that parts, times usual"
            value={patience}
            decimals={1}
            min={0.5}
            max={5}
            step={0.5}
            standard={1}
            onChange={(value) => workspace.echoes.setPatience(value)}
          />
          {asking ? (
            <span role="alert">
              Forget all for good?{" "}
              <button
                type="button"
                className="btn btn-sm"
                onClick={() => {
                  setAsking(false);
                  void workspace.echoes.clear();
                }}
              >
                Forget
              </button>{" "}
              <button type="button" className="btn btn-sm" onClick={() => setAsking(false)}>
                No
              </button>
            </span>
          ) : (
            <button type="button" className="btn btn-sm" onClick={() => setAsking(true)}>
              Forget all
            </button>
          )}
        </div>
      )}
    </>
  );
}
