"use client";

import { useState } from "react";
import { KEYS_DEVICE, POINTER_DEVICE } from "@/inputs/played-hit";
import { useWorkspaceState } from "../workspace/use-workspace";
import { CalibrationPanel } from "./calibration-panel";
import { DeviceList } from "./device-list";
import { DevicePanel } from "./device-panel";
import styles from "./inputs.module.scss";
import { KeyLevelsPanel } from "./key-levels-panel";
import { SeenList } from "./seen-list";
import { StandInPanel } from "./stand-in-panel";

/** Everything that can be played on: what is there, how each is listened to, what came in last. */
export default function InputsView() {
  const devices = useWorkspaceState(({ midi }) => midi.devices);
  const [chosen, setChosen] = useState<string>();
  const shown = chosen ?? devices[0] ?? KEYS_DEVICE;
  return (
    <section className={styles.view} aria-label="Inputs">
      <div className={styles.column}>
        <DeviceList shown={shown} onShow={setChosen} />
        <StandInPanel />
      </div>
      <div className={styles.column}>
        {shown === KEYS_DEVICE ? (
          <KeyLevelsPanel />
        ) : shown === POINTER_DEVICE ? (
          <section className={styles.panel}>
            <h2>{POINTER_DEVICE}</h2>
            <p>The higher a pad is touched, the harder the stroke. Several fingers play several pads.</p>
          </section>
        ) : (
          <DevicePanel key={shown} device={shown} />
        )}
      </div>
      <div className={styles.column}>
        <CalibrationPanel device={shown} />
        <SeenList />
      </div>
    </section>
  );
}
