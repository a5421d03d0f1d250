"use client";

import { useEffect, type RefObject } from "react";
import { useWorkspace } from "../../workspace/use-workspace";
import { toShare } from "../picture/lane-layout";

const WHEEL_ZOOM = 1.0025;

/** Control and the wheel (which is also what a pinch on a touch pad is), the wheel sideways, and two fingers. */
export function usePinch(field: RefObject<HTMLDivElement | null>): void {
  const { lanes } = useWorkspace();
  useEffect(() => {
    const element = field.current!;
    const fingers = new Map<number, number>();
    const zoomBy = (factor: number, x: number) => lanes.zoomAt(factor, toShare(x, element.clientWidth));
    const wheel = (event: WheelEvent) => {
      const sideways = event.shiftKey ? event.deltaY : event.deltaX;
      if (event.ctrlKey) zoomBy(WHEEL_ZOOM ** event.deltaY, event.offsetX);
      else if (sideways !== 0) lanes.pan(sideways / 800);
      else return;
      event.preventDefault();
    };
    const place = ({ clientX }: globalThis.PointerEvent) => clientX - element.getBoundingClientRect().left;
    const down = (event: globalThis.PointerEvent) =>
      event.pointerType === "touch" && fingers.set(event.pointerId, place(event));
    const move = (event: globalThis.PointerEvent) => {
      if (!fingers.has(event.pointerId)) return;
      const apart = () => Math.abs([...fingers.values()].reduce((a, b) => a - b));
      const before = fingers.size === 2 ? apart() : 0;
      fingers.set(event.pointerId, place(event));
      if (fingers.size !== 2 || before < 1 || apart() < 1) return;
      const [a, b] = [...fingers.values()];
      zoomBy(before / apart(), (a! + b!) / 2);
    };
    const up = (event: globalThis.PointerEvent) => fingers.delete(event.pointerId);
    // React's own wheel listener is passive and could not keep the page from zooming.
    element.addEventListener("wheel", wheel, { passive: false });
    element.addEventListener("pointerdown", down);
    element.addEventListener("pointermove", move);
    element.addEventListener("pointerup", up);
    element.addEventListener("pointercancel", up);
    return () => {
      element.removeEventListener("wheel", wheel);
      element.removeEventListener("pointerdown", down);
      element.removeEventListener("pointermove", move);
      element.removeEventListener("pointerup", up);
      element.removeEventListener("pointercancel", up);
    };
  }, [field, lanes]);
}
