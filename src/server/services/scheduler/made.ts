import type { AgreedControl } from "@/core/query/controls";

/** What a run made; `rows` is null for what has none of its own. */
export type Made = {
  rows: number | null;
  pages: number | null;
  files: { path: string; bytes: number }[];
  controls: AgreedControl[] | null;
  sentAt: Date | null;
};
