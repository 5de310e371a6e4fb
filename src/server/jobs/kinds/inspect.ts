import type { Schema } from "@/core/schema/schema";
import type { ColumnSetting, MadeLink } from "@/core/schema/told";
import type { Run } from "@/server/engine/protocol";
import { shapeOf } from "@/server/source/shape";

declare module "@/server/engine/protocol" {
  interface Jobs {
    inspect: { asks: { database: string; settings: ColumnSetting[]; links: MadeLink[]; skip: number[]; most?: number }; gives: Schema };
  }
}

export const holdsUpOthers = true;

export const run: Run<"inspect"> = (job, { at, progress }) =>
  shapeOf(job.database, job.settings, job.links, { skip: job.skip, onView: at, onShare: progress, ...(job.most === undefined ? {} : { most: job.most }) });
