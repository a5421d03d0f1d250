/** Of what is loud usually, where it is loud, and where it clips. */
export interface LevelColours {
  readonly usual: string;
  readonly loud: string;
  readonly clipped: string;
}

export function readLevelColours(element: Element): LevelColours {
  const style = getComputedStyle(element);
  const read = (name: string) => style.getPropertyValue(name).trim();
  return { usual: read("--snare"), loud: read("--brass"), clipped: read("--coral") };
}
