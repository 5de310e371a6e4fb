/**
 * A problem as data: what is wrong (code), where (path into the description), and the particulars its sentence
 * needs. Values from the database never stand in one, as problems may be logged.
 */
export type Problem = { code: ProblemCode; path: (string | number)[]; detail: Record<string, string | number> };

type Detail = Record<string, string | number>;
const q = (value: string | number | undefined) => `“${value ?? ""}”`;

/** One sentence a problem: what is wrong and what to do. */
const SENTENCES = {
  tableGone: (d: Detail) => `The database has no table ${q(d.table)}. Choose another table, or restore it.`,
  columnGone: (d: Detail) => `The table ${q(d.table)} has no column ${q(d.column)} any more. Choose another column, or remove this one.`,
  linkGone: (d: Detail) => `The link ${q(d.link)} does not exist any more, so this table cannot be joined. Choose another, or create the link again.`,
  joinGone: (d: Detail) => `A column comes from a table that is no longer joined (${q(d.join)}). Join the table again or remove the column.`,
  ownColumnGone: () => "A condition on groups compares a column that the query no longer has. Choose another, or remove the condition.",
  patternField: () => "A pattern must be typed or asked for; it cannot come from a field. Use “contains” to compare two fields.",
  patternEnds: () => "The pattern ends in its escape character, with nothing after it to escape. Add a character, or remove the escape.",
  noColumns: () => "No columns are shown. Tick at least one on the left.",
  duplicateName: (d: Detail) => `The name ${q(d.name)} is used twice. Rename one.`,
  operatorType: (d: Detail) => `${q(d.operator)} does not work with a ${d.type}. Choose another comparison.`,
  amongGroups: () => "Groups cannot be compared with the rows of a query. Make a query over this one, and compare its rows.",
  amongOver: () => "A comparison with the rows of a query belongs into the query itself. Open the query, and add the condition there.",
  amongParent: () => "Only the rows that match can be compared with the rows of a query. Choose one of their fields.",
  amongTypes: (d: Detail) => `A ${d.type} cannot be compared with ${q(d.column)} of ${q(d.table)}, which is a ${d.wanted}. Choose another column.`,
  valueMissing: () => "A value is missing. Enter it, or remove the condition.",
  valueType: (d: Detail) => `${q(d.value)} is not a ${d.type}. Write it like ${d.example}.`,
  periodType: (d: Detail) => `${q(d.value)} is not a period. Write its first and last day like 2026-10-01/2026-10-31.`,
  periodNeeded: (d: Detail) => `${q(d.operator)} compares with a period. Give its first and last day, or choose a parameter for a period.`,
  periodNeedsWithin: (d: Detail) => `The parameter ${q(d.name)} is a period. Use “is within”, or a parameter for one date.`,
  numberLong: (d: Detail) => `A number has more than ${d.most} digits, more than an exact number can have. Use a shorter one.`,
  parameterGone: (d: Detail) => `The query has no parameter ${q(d.name)}. Choose another, or add it.`,
  parameterMissing: (d: Detail) => `The parameter ${q(d.name)} needs a value.`,
  parameterType: (d: Detail) => `The parameter ${q(d.name)} is a ${d.type}, and ${d.wanted} is needed here.`,
  severalNeedList: (d: Detail) => `The parameter ${q(d.name)} takes several values. Use “is one of”, or a parameter for one value.`,
  parameterChoice: (d: Detail) => `${q(d.value)} is not one of the choices of the parameter ${q(d.name)}.`,
  rangeTurned: () => "The first value of the range is greater than the second. Swap them.",
  figureType: (d: Detail) => `A ${d.type} has no ${d.figure}. Choose another figure or column.`,
  figureNeedsGroup: (d: Detail) => `The figure ${q(d.figure)} needs “one row per …”.`,
  figureNeedsValue: (d: Detail) => `A field is missing for the ${d.figure}. Choose one.`,
  figureNeedsOrder: (d: Detail) => `The ${d.figure} value needs a field to order by. Choose one.`,
  derivedBroken: (d: Detail) => `The derived field ${q(d.field)} does not work: ${d.why}`,
  figureInFormula: (d: Detail) => `${d.name} at character ${d.at} is a figure over many rows. Use it in a grouped query as a figure, or add a rollup.`,
  notAFigure: (d: Detail) => `${d.name} at character ${d.at} is no figure, so it takes neither *, DISTINCT nor FILTER.`,
  figureNeedsWeight: () => "A weighted average needs the field that weighs its values. Choose one.",
  figurePercent: () => "A percentile needs a percentage from 0 to 100, such as 90.",
  windowOf: (d: Detail) => `The ${q(d.window)} needs a ${d.wanted} column of this query. Choose one.`,
  windowPeriod: (d: Detail) =>
    `The ${q(d.window)} looks back by periods, so the query needs one row per a date's ${d.parts}. Group by it, or look back by rows.`,
  windowNested: (d: Detail) => `The ${q(d.window)} cannot be taken of another such figure. Choose another column.`,
  firstOfGone: () => "The first rows are taken per a column that the query no longer has. Choose another.",
  queryBroken: (d: Detail) => `The query ${q(d.name)} cannot be read: ${d.why}`,
  queryCircle: (d: Detail) => `These queries read each other in a circle: ${d.names}. Change the source of one of them.`,
  compareWith: () => "Choose what to compare with.",
  compareKey: () => "Choose the fields by which a row is the same on both sides.",
  comparePair: (d: Detail) => `${q(d.here)} and ${q(d.there)} cannot be compared: a field was removed, or their types differ. Choose another field.`,
  compareCarried: (d: Detail) => `${q(d.field)} cannot be shown beside: it was removed, or its types differ. Choose another field.`,
  compareTolerance: () => "The tolerance must be a number such as 0 or 0.01.",
  stackNothing: (d: Detail) => `No column of ${q(d.part)} is named like one of ${q(d.first)}. Pair its columns in the source, or remove it.`,
  stackTypes: (d: Detail) =>
    `${q(d.column)} is a ${d.type} in the first table but not in ${q(d.part)}, so their rows cannot be put together. Pair another column, or none.`,
  joinNoComparison: (d: Detail) => `Nothing says which rows of ${q(d.table)} belong to which. Add a comparison; every pair would be ${d.pairs} rows.`,
  joinPairs: (d: Detail) => `Every pair would be ${d.pairs} rows; the limit is ${d.most}. Add a comparison.`,
  joinReach: (d: Detail) => `A comparison for ${q(d.table)} reads a derived field of it, or a table that is joined after it. Compare a stored column.`,
  joinHasNoComparison: (d: Detail) => `Nothing says which rows of ${q(d.table)} are meant. Add a comparison.`,
  joinHasReach: (d: Detail) =>
    `Whether there are rows of ${q(d.table)} can only be told by comparing its stored columns with those of ${q(d.near)}. Choose such columns.`,
  ownCircle: (d: Detail) => `The column ${q(d.column)} is worked out from itself. Change its formula.`,
  circle: (d: Detail) => `These formulas and fields refer to each other in a circle: ${d.names}. Change one of them.`,
  lookupMany: (d: Detail) => `The link ${q(d.link)} leads to many rows, so a lookup from ${q(d.table)} has no single value. Use a rollup.`,
  rollupFigure: (d: Detail) => `Choose a figure over ${q(d.table)} for the rollup.`,
  linkTypes: (d: Detail) =>
    `${q(d.a)} (${d.aType}) and ${q(d.b)} (${d.bType}) differ in type or storage, so they cannot be compared. Choose columns of one type.`,
  postingTrigger: (d: Detail) =>
    `The trigger ${q(d.trigger)} of ${q(d.table)} changes more than the journal could reverse, so its rows cannot be changed here. Choose another table.`,
  postingDenied: (d: Detail) => `The database does not let Next Ledger change rows of ${q(d.table)}. Choose another table.`,
  postingView: (d: Detail) => `${q(d.table)} is a view and cannot be changed. Choose a table.`,
  postingMoveSource: () => "Rows can be moved from a table, or from a query whose rows are those of one table. Choose another source.",
  postingMoveSelf: (d: Detail) => `Rows of ${q(d.table)} cannot be moved into the same table. Choose another table.`,
  postingMoveKey: (d: Detail) => `${q(d.table)} has no key, so the rows to move cannot be identified. Add a key first, under “Change columns…”.`,
  postingGenerated: (d: Detail) => `The database computes ${q(d.column)} itself. Remove its source.`,
  postingSame: (d: Detail) => `Rows are matched by ${q(d.column)}, but it has no source. Choose a source, or match by another column.`,
  postingNoSame: () => "Choose the columns to match rows by.",
  postingRequired: (d: Detail) => `${q(d.column)} is required. Choose a source column, or a formula such as 0 or 'new'.`,
  postingNothing: () => "Nothing would change. Choose a source for a column besides those that rows are matched by.",
  orderGone: () => "The sort order uses a column that does not exist any more. Remove it or choose another.",
  datePartType: (d: Detail) => `Only dates have a ${d.part}; this is a ${d.type}.`,
  bandType: (d: Detail) => `Only numbers can be grouped in bands; this is a ${d.type}.`,
  bandLimits: () => "Limits must be numbers from the least to the greatest, each once, with no more decimal places than their field.",
  lettersType: (d: Detail) => `Only texts can be grouped by their first letters; this is a ${d.type}.`,
  findSubtotals: () => "Rows cannot be found in a sheet with subtotals. Remove the subtotals first.",
  subtotalsCut: () => "Subtotals need all groups. Remove the limit on rows, or the subtotals.",
  everyOrder: () => "Groups without rows can only stand where all groups stand in the order of their values. Change the order of the levels.",
  everyField: (d: Detail) => `Groups without rows cannot be shown for ${q(d.column)}. Group by a field, a part of a date or a band.`,
  bandWidth: () => "The band width must be a number above 0, with no more decimal places than its field.",
  regexpWrong: (d: Detail) =>
    `The regular expression at character ${d.at} cannot be read. Use characters, . [abc] [^a-z] \\d \\w \\s ^ $ | ( ) and the repeats * + ? {2,4}.`,
  numberPattern: (d: Detail) => `The number pattern at character ${d.at} cannot be read. Write it like #,##0.00, 0 or 000.`,
  syntax: (d: Detail) => `The formula cannot be read at character ${d.at}: ${d.expected}.`,
  unknownField: (d: Detail) => `The formula uses ${q(d.name)}, which is not a column here. Check the spelling, or join its table.`,
  unknownFunction: (d: Detail) => `The function ${q(d.name)} does not exist. Available: ${d.known}.`,
  formulaType: (d: Detail) =>
    `${d.where} at character ${d.at} needs ${d.wanted}, but this is ${d.found}.${d.wanted === "a text" ? " CAST(… AS TEXT) makes a text of it." : ""}`,
  argumentCount: (d: Detail) => `${d.name} takes ${d.wanted}.`,
  limitRange: () => "The limit must be a whole number of 1 or more.",
  eachParameterGone: (d: Detail) => `The parameter ${q(d.name)}, by which there is one file for each, was removed. Choose another.`,
  eachFilterGone: () => "The filter of the dashboard, by which there is one file for each, was removed. Choose another.",
  eachNoList: () => "A dashboard has no rows of its own. Choose a query whose rows there is one file for.",
  eachColumnGone: (d: Detail) => `The column ${q(d.column)}, by which there is one file for each, was removed. Choose another.`,
  eachQueryGone: () => "The query with one row for each file was deleted. Choose another.",
  subjectGone: (d: Detail) => `The ${d.kind} of this schedule was deleted. Choose another.`,
  madeFromGone: (d: Detail) => `What this ${d.kind} is made from is neither here nor in the file. Import it too.`,
  queryGone: () => "The source query was deleted. Choose another query.",
  groupGone: (d: Detail) => `The query no longer has the column ${q(d.column)}, which this report uses. Choose another, or add it to the query again.`,
  groupDouble: (d: Detail) => `Two levels group on ${q(d.column)}. Choose another column for one of them.`,
  groupOrderFigure: () => "These groups cannot stand in the order of a column that is itself worked out from figures of groups. Choose another order.",
  groupOrderGone: () => "The groups of a level stand in the order of a footing that was removed. Choose another order.",
  reportCondition: () => "This condition must be a formula that is true or false, such as freight > 100.",
  footingOfWindow: (d: Detail) => `The column ${q(d.column)} is worked out from the rows beside it and has no figure. Remove its footing, or use a formula.`,
  textBrace: (d: Detail) => `The field at character ${d.at} of this text is not closed. Add }, or write {{ for a brace.`,
  labelTooLarge: (d: Detail) => `A label is larger than the ${d.width} × ${d.height} mm that the margins leave. Make it smaller.`,
  relatedRow: (d: Detail) =>
    `The table ${q(d.table)} needs a query with one row per row of a table, and this query has groups. Choose a query without groups, or remove the table.`,
  relatedLevelGone: (d: Detail) => `The table ${q(d.table)} stands under a level of groups that was removed. Choose where it stands.`,
  pageTooSmall: (d: Detail) => `The margins leave only ${d.width} × ${d.height} mm to print on. Make them smaller.`,
  pivotEmpty: () => "No figures yet. Add one, or the row count.",
  showAsType: (d: Detail) => `The ${d.figure} is a ${d.type} and cannot be shown as ${q(d.shown)}. Show it as is.`,
  showAsParts: (d: Detail) => `The ${d.figure} of parts does not add up to that of the whole, so it has no ${q(d.shown)}. Show it as is.`,
  pivotOrderGone: () => "The sort order uses a figure that was removed. Choose another.",
  pivotWide: (d: Detail) => `The pivot has ${d.count} columns; the limit is ${d.most}. Show the first 50 and the rest as one, or group them.`,
  pivotLong: (d: Detail) => `The pivot has ${d.count} rows; the limit is ${d.most}. Show the first ones and the rest as one, or group them.`,
  pivotLarge: (d: Detail) => `This pivot has more than ${d.most} figures. Show the first groups of each field and the rest as one, or remove a field.`,
  chartAlong: () => "The axis has no field. Add one.",
  chartPoints: (d: Detail) =>
    d.count === 1
      ? "This kind of chart needs one numeric field. Add it under the last heading."
      : `This kind of chart needs ${d.count} numeric fields. Add them under the last heading.`,
  chartNumber: (d: Detail) => `${q(d.field)} is a ${d.type}. A number is needed here. Choose another field.`,
  chartParts: (d: Detail) =>
    `The ${d.figure} of the parts does not add up to that of the whole, so it cannot be shown as ${d.kind}. Use ${d.instead}, or choose a total or a count.`,
  chartMany: (d: Detail) => `More than ${d.most} rows cannot be drawn as points. Add a condition, or use bars or a box plot.`,
  insertGroup: (d: Detail) => `The group that this ${d.kind} stands under was removed. Remove the ${d.kind}, or put it under another group.`,
  insertGone: (d: Detail) => `The ${d.kind} of each group was deleted. Choose another under “Groups”, or remove it.`,
  insertQuery: (d: Detail) => `The ${d.kind} ${q(d.name)} is made from another query than this report. Choose one made from the same query.`,
  insertEarlier: (d: Detail) => `The chart ${q(d.name)} compares with an earlier time, which a chart of each group cannot. Choose another.`,
  summaryGroup: () => "The group that this summary closes was removed. Remove the summary, or put it under another group.",
  summaryGone: (d: Detail) => `The total ${q(d.column)} of this line is not in the group’s related rows any more. Choose another.`,
  summaryNumber: (d: Detail) => `A line of a summary must be a number; this formula is a ${d.type}.`,
  closingGone: (d: Detail) => `The ${d.kind} printed after the rows was deleted. Remove it under “Page”.`,
  letterRow: (d: Detail) =>
    `The table ${q(d.table)} needs a query with one row per row of a table, and this query has groups. Choose a query without groups, or remove the table.`,
  letterTableGone: () => "A table of related rows was removed from this letter. Remove its place from the text.",
  letterNone: () => "The query has no rows, so there are no letters. Check its conditions and parameters.",
  letterNoneMeant: (d: Detail) => `No row of the query gets a letter, as none meets the condition “only when ${d.when}”. Change it under “Letter”.`,
  pictureBroken: () => "A picture cannot be read: its file is damaged. Replace it with another.",
  letterPlace: () => "Tables, pictures and page breaks can stand in the text only. Move this there, or remove it.",
  letterLong: (d: Detail) => `The table ${q(d.table)} has more than ${d.most} rows in one letter. Add a condition to it, or print a report.`,
  letterCondition: () => "The condition of a text must be a formula that is true or false, such as balance > 0.",
  tileGone: (d: Detail) => `The ${d.kind} of this tile was deleted. Choose another, or remove the tile.`,
  ability: (d: Detail) => `${d.dialect} cannot do ${d.ability}, which ${q(d.field)} needs.`,
  shapeNameMissing: () => "A name is missing. Enter one.",
  shapeNameTaken: (d: Detail) => `The name ${q(d.name)} is already used by a table, a view or an index. Choose another.`,
  shapeNameOfDropped: (d: Detail) =>
    `The column ${q(d.name)} is removed here, and what uses it would read this one instead. Remove it first, as a change of its own.`,
  shapeNameReserved: (d: Detail) => `Names that begin like ${q(d.name)} are reserved. Choose another.`,
  shapeNoColumns: () => "A table needs at least one column. Add one.",
  shapeKeyGone: () => "A column of the key was removed. Choose the key again.",
  shapeKeyFixed: (d: Detail) =>
    `The rows of ${q(d.table)} are stored by their key (WITHOUT ROWID), so its key cannot be changed here. Create a new table instead.`,
  shapeLinkKey: (d: Detail) => `A link needs a key of one column, and ${q(d.table)} has none. Give it a key first.`,
  shapeMakeRequired: (d: Detail) => `New rows of ${q(d.table)} need a value in ${q(d.column)}. Add them there first, or give the column a default.`,
  shapeStrict: (d: Detail) => `This table is STRICT, and a STRICT table cannot store a ${d.type} that is recognised as one. Choose another type.`,
  shapeGenerated: (d: Detail) => `${q(d.column)} is worked out by the database. It can be renamed or removed, but not changed.`,
  shapeValue: (d: Detail) => `${d.why}. Enter another value.`,
} satisfies Record<string, (detail: Detail) => string>;

export type ProblemCode = keyof typeof SENTENCES;
export const PROBLEM_CODES = Object.keys(SENTENCES) as ProblemCode[];

export const problem = (code: ProblemCode, path: (string | number)[], detail: Detail = {}): Problem => ({ code, path, detail });

/** The sentence shown to a person for a problem. */
export const sentence = ({ code, detail }: Problem): string => SENTENCES[code](detail);

/** Thrown where work cannot go on; carries every problem found, not only the first. */
export class ProblemError extends Error {
  constructor(readonly problems: Problem[]) {
    super(problems.map(sentence).join(" "));
    this.name = "ProblemError";
  }
}

/** Either a value or the problems that stand in its way. */
export type Checked<T> = { ok: true; value: T } | { ok: false; problems: Problem[] };
