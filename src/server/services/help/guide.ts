import { readFileSync } from "node:fs";
import { join } from "node:path";
import type { GuidePage } from "@/core/help/guidePages";

/** A page of the guide, as Markdown. @param root the application's folder */
export const guideText = (page: GuidePage, root = process.cwd()): string => readFileSync(join(root, "docs/guide", `${page}.md`), "utf8");
