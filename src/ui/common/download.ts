import { plainName } from "@/core/beat/plain-name";

/** Hands bytes to the browser as a download. */
export function download(content: string | Uint8Array, fileName: string, type: string): void {
  const url = URL.createObjectURL(new Blob([content as BlobPart], { type }));
  const link = document.createElement("a");
  link.href = url;
  link.download = fileName;
  link.click();
  // Some browsers start reading only after the click has returned.
  setTimeout(() => URL.revokeObjectURL(url), 30_000);
}

/** Names that are devices to some systems, whatever stands behind a dot (common practice, no source). */
const DEVICE = /^(con|prn|aux|nul|com\d|lpt\d)(?=\.|$)/i;

/** A name that every file system takes. */
export function fileNameOf(name: string): string {
  const plain = plainName(name)
    .replace(/[\\/:*?"<>|]+/g, "-")
    .replace(/[. ]+$/, "");
  return plain.replace(DEVICE, "$1-") || "beat";
}
