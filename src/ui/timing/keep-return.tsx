"use client";

import { createPortal } from "react-dom";
import Dropdown from "react-bootstrap/Dropdown";
import { useKeyName } from "../common/use-key-name";
import { useOfPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./timing.module.scss";

/** Keep timing makes what is heard the new starting point; Return goes back to one, or to what was played. */
export function KeepReturn() {
  const workspace = useWorkspace();
  const { words: keepKey } = useKeyName("keep");
  const { words: returnKey } = useKeyName("return");
  const points = useOfPattern((pattern) => pattern.points) ?? [];
  const nothing = useOfPattern(({ passes }) => !passes.some(({ hits }) => hits.length > 0));
  const readOnly = useWorkspaceState((state) => state.readOnly);
  return (
    <div className={styles.keep}>
      <button
        type="button"
        className="btn btn-sm"
        disabled={readOnly || nothing}
        aria-label="Keep timing"
        title={`Makes what is heard the new starting point (${keepKey})`}
        onClick={() => workspace.timing.keep()}
      >
        Keep
      </button>
      <Dropdown align="end">
        <Dropdown.Toggle
          as="button"
          type="button"
          className="btn btn-sm"
          bsPrefix="return"
          disabled={readOnly || nothing}
          title={`Goes back to a kept timing, or to what was played (${returnKey})`}
        >
          Return…
        </Dropdown.Toggle>
        {createPortal(
          <Dropdown.Menu>
            {points.toReversed().map(({ id, name }) => (
              <Dropdown.Item key={id} as="button" type="button" onClick={() => workspace.timing.return(id)}>
                to {name}
              </Dropdown.Item>
            ))}
            {points.length > 0 && <Dropdown.Divider />}
            <Dropdown.Item as="button" type="button" onClick={() => workspace.timing.returnToPlayed()}>
              to what was played
            </Dropdown.Item>
          </Dropdown.Menu>,
          document.body,
        )}
      </Dropdown>
    </div>
  );
}
