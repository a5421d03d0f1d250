interface KeyboardWithLayout {
  getLayoutMap(): Promise<ReadonlyMap<string, string>>;
}

const US_MARKS: Readonly<Record<string, string>> = {
  Comma: ",",
  Period: ".",
  Slash: "/",
  Semicolon: ";",
  Quote: "'",
  Backslash: "\\",
  Backquote: "`",
  BracketLeft: "[",
  BracketRight: "]",
  Minus: "-",
  Equal: "=",
};

/** What is printed on a key of the US layout; the fallback where a browser does not tell the layout. */
export function usLabel(code: string): string {
  return US_MARKS[code] ?? code.replace(/^(Key|Digit)/, "");
}

/** What is printed on keys in the user's layout, in the order asked for. */
export async function readKeyLabels(codes: readonly string[]): Promise<readonly string[]> {
  const keyboard = (navigator as { keyboard?: KeyboardWithLayout }).keyboard;
  if (!keyboard) return codes.map(usLabel);
  const layout = await keyboard.getLayoutMap().catch(() => new Map<string, string>());
  return codes.map((code) => layout.get(code)?.toUpperCase() ?? usLabel(code));
}
