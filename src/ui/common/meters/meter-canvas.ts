type MeterContext = OffscreenCanvasRenderingContext2D | CanvasRenderingContext2D;

/** A canvas is handed over once. */
const contexts = new WeakMap<HTMLCanvasElement, MeterContext>();

/**
 * The context of a canvas that changes many times a second. The canvas is handed over to the compositor, where the browser can: what is
 * drawn there is shown without the page being laid out and painted.
 */
export function meterContext(canvas: HTMLCanvasElement): MeterContext {
  const known = contexts.get(canvas);
  if (known) return known;
  const target =
    "transferControlToOffscreen" in canvas ? canvas.transferControlToOffscreen() : (canvas as HTMLCanvasElement);
  const context = target.getContext("2d") as MeterContext;
  contexts.set(canvas, context);
  return context;
}
