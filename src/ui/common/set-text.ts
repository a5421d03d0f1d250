/** Writes a text past React, where it is another one: what is written anew is drawn anew, also where it is the same. */
export function setText(element: Element, text: string): void {
  if (element.textContent !== text) element.textContent = text;
}
