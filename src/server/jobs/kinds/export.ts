import type { AboutFile } from "@/core/proof/aboutFile";
import type { Plan } from "@/core/query/plan";
import type { RowFormat } from "@/core/schedule/choices";
import type { Run } from "@/server/engine/protocol";
import { exportRows } from "@/server/jobs/export/rows";
import { exportWithAbout } from "@/server/jobs/export/withAbout";
import type { FileResult } from "@/server/jobs/work";
import { reading, readingWithCopy } from "@/server/source/read";

declare module "@/server/engine/protocol" {
  interface Jobs {
    export: {
      asks: {
        format: RowFormat;
        database: string;
        plan: Plan;
        path: string /** no text is taken for a formula by a sheet program */;
        guarded?: boolean;
        /** What the rows are of, to be said beside them with their proof; `figure` is the column that the account follows. */
        about?: AboutFile & { figure: string | null };
      };
      gives: FileResult;
    };
  }
}

export const run: Run<"export"> = (job, { progress }) => {
  const { about, plan } = job;
  // Rows and their proof are asked for in the same place: rows one by one are the database's.
  const read = plan.grouped ? readingWithCopy<FileResult> : reading<FileResult>;
  return read(job.database, (r) =>
    about ? exportWithAbout(r, { ...job, about }, progress) : exportRows[job.format](r, plan, job.path, job.guarded, progress),
  );
};
