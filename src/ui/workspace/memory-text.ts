import type { MemoryReason } from "@/store/repository";

/** What the page says when nothing is kept. */
export const MEMORY_TEXT: Readonly<Record<MemoryReason, string>> = {
  missing: "This browser keeps nothing here. Beats live until the page is closed: export what you want to keep.",
  full: "The browser's store is full. Changes live until the page is closed: export what you want to keep.",
  failed: "The browser's store does not answer. Changes live until the page is closed: export what you want to keep.",
};
