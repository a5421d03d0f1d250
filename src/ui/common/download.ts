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

/** A name that every file system takes. */
export function fileNameOf(name: string): string {
  return name.replace(/[\\/:*?"<>|\p{Cc}]+/gu, "-").trim() || "beat";
}
