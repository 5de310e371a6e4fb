"use client";

import { postingQuestion } from "@/core/brief/postingBrief";
import { type PostedBefore, rowsWritten, type StepTally } from "@/core/posting/outcome";
import { findTable, type Schema } from "@/core/schema/schema";
import { counted, writeCount } from "@/core/types/format";
import { Confirm } from "@/ui/Confirm";
import { useLocale } from "../workspace/locale";
import { Twice } from "./PostingNotices";
import { WORDS } from "./words";

type Props = { steps: StepTally[]; twice: PostedBefore | null; schema: Schema; post: () => void };

/** Posts, after it is said what becomes of the rows of each table. */
export function PostButton({ steps, twice, schema, post }: Props) {
  const locale = useLocale();
  const rows = steps.reduce((sum, tally) => sum + rowsWritten(tally), 0);
  return (
    <Confirm label={WORDS.post(counted(rows, "row", locale))} button={twice ? WORDS.postAgain : WORDS.postButton} act={post}>
      {postingQuestion(steps, locale)}{" "}
      {steps.map(({ table, rowsBefore, rowsAfter }) => (
        <span key={table}>{WORDS.confirm(findTable(schema, table)?.label ?? table, writeCount(rowsBefore, locale), writeCount(rowsAfter, locale))} </span>
      ))}
      {twice && <Twice twice={twice} />}
    </Confirm>
  );
}
