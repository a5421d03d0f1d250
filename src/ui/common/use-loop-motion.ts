import { useEffect, useState } from "react";
import { LoopMotion } from "./loop-motion";

/** A motion of one element, which ends with its component. */
export function useLoopMotion(): LoopMotion {
  const [motion] = useState(() => new LoopMotion());
  useEffect(() => () => motion.stop(), [motion]);
  return motion;
}
