import type { MemoryReason } from "@/store/persistence/tables/store-access";

/** What the page says when nothing is kept. */
export const MEMORY_TEXT: Readonly<Record<MemoryReason, string>> = {
  missing: "This browser keeps nothing here. Beats live until the page is closed: export what you want to keep.",
  full: "The browser's store is full. Changes live until the page is closed: export what you want to keep.",
  slow: "The browser's store does not answer yet. What you do is kept until the page is closed, and saved when it does.",
  failed: "The browser's store does not answer. Changes live until the page is closed: export what you want to keep.",
};
