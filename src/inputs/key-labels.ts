import { PAD_KEYS } from "./computer-keys";

interface KeyboardWithLayout {
  getLayoutMap(): Promise<ReadonlyMap<string, string>>;
}

/** What is printed on a key of the US layout; the fallback where a browser does not tell the layout. */
function usLabel(code: string): string {
  return code === "Comma" ? "," : code.replace(/^Key/, "");
}

export const US_LABELS: readonly string[] = PAD_KEYS.map(usLabel);

/** The letters printed on the pads' keys in the user's layout, in the order of the pads. */
export async function readKeyLabels(): Promise<readonly string[]> {
  const keyboard = (navigator as { keyboard?: KeyboardWithLayout }).keyboard;
  if (!keyboard) return US_LABELS;
  const layout = await keyboard.getLayoutMap().catch(() => new Map<string, string>());
  return PAD_KEYS.map((code) => layout.get(code)?.toUpperCase() ?? usLabel(code));
}
