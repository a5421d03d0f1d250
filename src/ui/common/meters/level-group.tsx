"use client";

import { createContext, use, useEffect, useRef, useState, type ReactNode } from "react";
import { useThemed } from "../../theme/use-themed";
import { useMoving, usePictures, useWorkspace } from "../../workspace/use-workspace";
import styles from "./level-bar.module.scss";
import { readLevelColours } from "./level-colours";
import { LevelPicture } from "./level-picture";

const PictureContext = createContext<LevelPicture | undefined>(undefined);

/** Level bars that share one canvas, which is among its children. */
export function LevelGroup({ children }: { readonly children: ReactNode }) {
  const { levels } = useWorkspace();
  const pictures = usePictures();
  const [picture] = useState(() => new LevelPicture(pictures.wake));
  useEffect(() => levels.onChange(() => picture.take(levels.latest)), [levels, picture]);
  return <PictureContext value={picture}>{children}</PictureContext>;
}

export function useLevelPicture(): LevelPicture {
  return use(PictureContext)!;
}

/** The canvas of a group. The box around all of the group is positioned, and scrolls canvas and bars together, if it scrolls. */
export function LevelCanvas() {
  const picture = useLevelPicture();
  const canvas = useRef<HTMLCanvasElement>(null);
  const colours = useThemed(canvas, readLevelColours);
  useEffect(() => picture.show(canvas.current!), [picture, colours]);
  useMoving((nowMs) => !!colours && picture.draw(nowMs, colours));
  return <canvas ref={canvas} className={styles.canvas} aria-hidden />;
}
