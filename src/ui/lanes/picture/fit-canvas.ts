/** Gives a canvas as many pixels as its size takes on this screen. @returns false where it has them, with what is drawn */
export function fitCanvas(element: HTMLCanvasElement, widthPx: number, heightPx: number): boolean {
  const scale = window.devicePixelRatio || 1;
  const [width, height] = [Math.round(widthPx * scale), Math.round(heightPx * scale)];
  if (element.width === width && element.height === height) return false;
  element.width = width;
  element.height = height;
  element.getContext("2d")!.scale(scale, scale);
  return true;
}
