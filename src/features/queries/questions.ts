import type { FilterValues } from "@/core/dashboard/spec";
import type { DerivedField } from "@/core/derive/spec";
import type { CellPick } from "@/core/pivot/pick";
import type { PivotSpec } from "@/core/pivot/spec";
import type { ProofPick } from "@/core/proof/proof";
import type { WantedNames } from "@/core/query/namedRows";
import type { ParameterValues, QuerySpec } from "@/core/query/spec";
import type { ReportSpec } from "@/core/report/spec";
import type { Cell } from "@/core/types/valueType";
import type { Asked } from "@/server/http/ahead";

/** What is asked of a query: its own rows, or those behind a number of its proof, a cell of a pivot, a tile. */
export type Question = {
  spec: QuerySpec;
  values: ParameterValues;
  pick?: ProofPick | undefined;
  cell?: (CellPick & { pivot: PivotSpec }) | undefined;
  /** A group of a report, by what makes it. */
  group?: { report: ReportSpec; keys: Cell[] } | undefined;
  draft?: DerivedField | undefined;
  /** The tile of a saved dashboard that the rows are behind, where it is only looked at. */
  tile?: { object: string; id: string; values: FilterValues } | undefined;
  /** Whether an earlier moment will do, which is told with the answer. */
  asOf?: true;
};

/** Rows that are fetched together. */
export const BLOCK = 100;

export const rowsAsked = (question: Question, offset: number, rows: number): Asked => ({ path: "/api/query/rows", body: { ...question, offset, rows } });
/** A sheet says which moment it is of. */
const ofSheet = (question: Question): Question => ({ ...question, asOf: true });
/** Answered with SheetRows. */
export const blockAsked = (question: Question, block: number): Asked => rowsAsked(ofSheet(question), block * BLOCK, BLOCK);
export const sheetFootingAsked = (question: Question): Asked => footingAsked(ofSheet(question));
export const footingAsked = (question: Question): Asked => ({ path: "/api/query/footing", body: question });
export const proofAsked = (question: Question): Asked => ({ path: "/api/query/proof", body: ofSheet(question) });

/** @param behind the rows in which the keys stand, where they are only looked at */
export const namesAsked = ({ table, keys }: WantedNames, behind?: Question): Asked => ({ path: "/api/query/names", body: { table, keys, behind } });

/** What a query's page asks first. */
export const firstAsked = (question: Question): Asked[] => [blockAsked(question, 0), sheetFootingAsked(question), { ...proofAsked(question), aside: true }];
