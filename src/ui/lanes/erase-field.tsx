"use client";

import { useState, type PointerEvent } from "react";
import type { LaneInfo } from "@/core/beat/lanes";
import { useWorkspace, useWorkspaceState } from "../workspace/use-workspace";
import { toTicks } from "./picture/lane-layout";
import styles from "./picture/lanes.module.scss";
import { useLaneScale } from "./picture/use-lane-scale";

interface Box {
  readonly fromX: number;
  readonly fromY: number;
  readonly toX: number;
  readonly toY: number;
}

/** While erase is on, a rectangle drawn over the lanes takes what lies in it. */
export function EraseField(props: {
  readonly pads: readonly LaneInfo[];
  readonly widthPx: number;
  readonly heightPx: number;
}) {
  const { pads, widthPx, heightPx } = props;
  const workspace = useWorkspace();
  const scale = useLaneScale(widthPx);
  const on = useWorkspaceState(({ erasing }) => erasing.on);
  const [box, setBox] = useState<Box>();
  if (!on) return null;

  const down = (event: PointerEvent<HTMLDivElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    const { offsetX: x, offsetY: y } = event.nativeEvent;
    setBox({ fromX: x, fromY: y, toX: x, toY: y });
  };
  const move = ({ nativeEvent: { offsetX, offsetY } }: PointerEvent) =>
    setBox((drawn) => drawn && { ...drawn, toX: offsetX, toY: offsetY });
  const up = () => {
    setBox(undefined);
    if (!box) return;
    const [left, right] = [Math.min(box.fromX, box.toX), Math.max(box.fromX, box.toX)];
    const rows = [box.fromY, box.toY].map((y) => Math.floor((y / heightPx) * pads.length)).sort((a, b) => a - b);
    const taken = new Set(pads.slice(Math.max(0, rows[0]!), rows[1]! + 1).map(({ id }) => id));
    workspace.eraser.eraseRange(taken, toTicks(left, scale), toTicks(right, scale));
  };
  return (
    <div
      className={styles.eraseField}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={() => setBox(undefined)}
    >
      {box && (
        <div
          className={styles.eraseBox}
          style={{
            left: Math.min(box.fromX, box.toX),
            top: Math.min(box.fromY, box.toY),
            width: Math.abs(box.toX - box.fromX),
            height: Math.abs(box.toY - box.fromY),
          }}
        />
      )}
    </div>
  );
}
