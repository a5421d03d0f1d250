const LOOK_ALIKES: Readonly<Record<string, string>> = { "<": "‹", ">": "›", "&": "＆" };

/**
 * A name for a library that takes some texts for HTML and draws others as they are: escaped ones would be drawn as escapes,
 * so what could begin markup or an escape gives way to its look-alike.
 * @example withoutMarkup("<b>Kick & Snare</b>") // "‹b›Kick ＆ Snare‹/b›"
 */
export function withoutMarkup(text: string): string {
  return text.replace(/[<>&]/g, (character) => LOOK_ALIKES[character]!);
}
