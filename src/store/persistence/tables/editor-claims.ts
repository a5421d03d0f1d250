import type { Rows } from "../rows/row-store";
import type { StoreAccess } from "./store-access";

/** Who may write a beat: the editor that claimed it last. What others still want to write is refused. */
export class EditorClaims {
  /** By editor, who the store said had the beat when this one claimed it. */
  private readonly claimedFrom = new Map<string, string | undefined>();

  constructor(private readonly access: StoreAccess) {}

  /** Claims a beat; a claim that the store did not take is made with the next write. */
  async claim(beatId: string, editor: string): Promise<void> {
    const before = await this.access.read(["editors"], (rows) => editorOf(rows, beatId), undefined);
    this.claimedFrom.set(editor, before);
    await this.access.change(["editors"], ({ editors }) => editors.put({ beatId, token: editor }), undefined);
  }

  /** Within a transaction. @param editor without one, nobody edits it */
  async mayWrite(rows: Rows<"editors">, beatId: string, editor: string | undefined): Promise<boolean> {
    if (editor === undefined) return true;
    const claimed = await editorOf(rows, beatId);
    if (claimed === undefined || claimed === editor) return true;
    // The store did not take the claim when it was made; nobody has claimed the beat since.
    if (claimed !== this.claimedFrom.get(editor)) return false;
    await rows.editors.put({ beatId, token: editor });
    return true;
  }
}

/** A row that can't be read is nobody's claim. */
async function editorOf({ editors }: Rows<"editors">, beatId: string): Promise<string | undefined> {
  const row = (await editors.get(beatId)) as { readonly token?: unknown } | undefined;
  return typeof row?.token === "string" ? row.token : undefined;
}
