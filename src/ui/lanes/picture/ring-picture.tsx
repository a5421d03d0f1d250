"use client";

import { useEffect, useRef } from "react";
import { useThemed } from "../../theme/use-themed";
import type { HitMark } from "./lane-layout";
import { fitCanvas } from "./fit-canvas";
import styles from "./lanes.module.scss";

export interface Rings {
  /** Chosen hits; the one with the focus among them. */
  readonly chosen: readonly HitMark[];
  readonly focus: number | undefined;
  /** What an advice is about. */
  readonly lit: readonly HitMark[];
}

export interface RingPictureProps extends Rings {
  readonly rowOf: ReadonlyMap<number, number>;
  readonly rowPx: number;
  readonly widthPx: number;
  readonly heightPx: number;
  readonly className?: string;
  readonly style?: React.CSSProperties;
}

const readInks = (element: Element) => {
  const style = getComputedStyle(element);
  return { ink: style.getPropertyValue("--ink").trim(), brass: style.getPropertyValue("--brass-ink").trim() };
};

/** Rings around hits, painted: thousands may be chosen. */
export function RingPicture(props: RingPictureProps) {
  const { chosen, focus, lit, rowOf, rowPx, widthPx, heightPx, className, style } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const inks = useThemed(canvas, readInks);
  const painted = useRef(false);
  useEffect(() => {
    const any = chosen.length > 0 || lit.length > 0;
    if (!inks || (!any && !painted.current)) return;
    const context = canvas.current!.getContext("2d")!;
    fitCanvas(canvas.current!, widthPx, heightPx);
    context.clearRect(0, 0, widthPx, heightPx);
    painted.current = any;
    const ring = (mark: HitMark, colour: string, width: number, dash: readonly number[]) => {
      context.strokeStyle = colour;
      context.lineWidth = width;
      context.setLineDash([...dash]);
      context.beginPath();
      const y = ((rowOf.get(mark.lane) ?? -9) + 0.5) * rowPx;
      context.arc(mark.x, y, 0.3 * rowPx + 4 * mark.size, 0, 2 * Math.PI);
      context.stroke();
    };
    for (const mark of lit) ring(mark, inks.brass, 2, [3, 2.5]);
    for (const mark of chosen) if (mark.id !== focus) ring(mark, inks.ink, 1.75, []);
    for (const mark of chosen) if (mark.id === focus) ring(mark, inks.brass, 3, []);
  }, [chosen, focus, lit, rowOf, rowPx, widthPx, heightPx, inks]);
  return <canvas ref={canvas} className={`${styles.rings} ${className ?? ""}`} style={style} aria-hidden />;
}
