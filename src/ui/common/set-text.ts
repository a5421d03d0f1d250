/**
 * Writes a text past React, where it is another one: what is written anew is drawn anew, also where it is the same. The text's node stays:
 * a new one would have the browser ask every rule with `:has` whether it still holds.
 */
export function setText(element: Element, text: string): void {
  const node = element.firstChild;
  if (!node) element.textContent = text;
  else if (node.nodeValue !== text) node.nodeValue = text;
}
