"use client";

import Dropdown from "react-bootstrap/Dropdown";
import type { Groove } from "@/core/beat/feel";
import { NameField } from "../common/fields/name-field";
import { download, fileNameOf } from "../common/download";
import { useOpenPattern, useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import styles from "./timing.module.scss";

/** What can be done with the groove that the pattern has; more with one of one's own. */
export function OwnGroove() {
  const { timing } = useWorkspace();
  const current = useOpenPattern().groove?.groove;
  const own = useWorkspaceState(({ grooves }) => grooves);
  const removed = useWorkspaceState((state) => state.removedGroove);
  const mine = own.some(({ name }) => name === current?.name) ? current : undefined;
  return (
    <>
      {mine && (
        <NameField name={mine.name} className={styles.rename} onRename={(name) => timing.renameGroove(mine, name)} />
      )}
      <Dropdown.Item as="button" type="button" disabled={!current} onClick={() => current && void save(current)}>
        Export {current?.name ?? "the groove"}
      </Dropdown.Item>
      <Dropdown.Item as="button" type="button" disabled={!mine} onClick={() => mine && timing.removeGroove(mine)}>
        Delete {mine ? `your groove “${mine.name}”` : "a groove of your own"}
      </Dropdown.Item>
      {removed && (
        <Dropdown.Item as="button" type="button" onClick={() => timing.restoreGroove()}>
          Bring back your groove “{removed.name}”
        </Dropdown.Item>
      )}
    </>
  );
}

async function save(groove: Groove): Promise<void> {
  const { writeGrooveFile } = await import("@/core/formats/groove-file");
  download(writeGrooveFile(groove), `${fileNameOf(groove.name)}.groove.json`, "application/json");
}
