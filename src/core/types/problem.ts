/**
 * A problem as data: what is wrong (code), where (path into the description), and the particulars its sentence
 * needs. Values from the database never stand in one, as problems may be logged.
 */
export type Problem = { code: ProblemCode; path: (string | number)[]; detail: Record<string, string | number> };

type Detail = Record<string, string | number>;
const q = (value: string | number | undefined) => `“${value ?? ""}”`;

/** One sentence a problem: what is wrong and what to do. */
const SENTENCES = {
  tableGone: (d: Detail) => `There is no table ${q(d.table)} in the database now. Choose another table, or bring it back.`,
  columnGone: (d: Detail) => `The table ${q(d.table)} has no column ${q(d.column)} now. Choose another column, or remove this one.`,
  linkGone: (d: Detail) => `The link ${q(d.link)} is gone, so this table can no longer be brought. Choose another, or make the link again.`,
  joinGone: (d: Detail) => `A column comes from a table that is no longer brought (${q(d.join)}). Bring the table again or remove the column.`,
  noColumns: () => "No column is shown. Tick at least one on the left.",
  duplicateName: (d: Detail) => `Two parts carry the name ${q(d.name)}. Rename one.`,
  operatorType: (d: Detail) => `${q(d.operator)} cannot be asked of a ${d.type}. Choose another comparison.`,
  valueMissing: () => "A value is missing here. Fill it in, or remove the condition.",
  valueType: (d: Detail) => `${q(d.value)} is not a ${d.type}. Write it as ${d.example}.`,
  numberLong: (d: Detail) => `A number here has more than ${d.most} digits, more than an exact number can have. Write a shorter one.`,
  parameterGone: (d: Detail) => `There is no parameter ${q(d.name)}. Choose another, or add it.`,
  parameterMissing: (d: Detail) => `The parameter ${q(d.name)} needs a value.`,
  parameterType: (d: Detail) => `The parameter ${q(d.name)} is a ${d.type}, and ${d.wanted} is needed here.`,
  parameterChoice: (d: Detail) => `${q(d.value)} is not one of the choices of the parameter ${q(d.name)}.`,
  rangeTurned: () => "The range is the wrong way round: its first value is greater than its second, so nothing lies in it. Exchange them.",
  figureType: (d: Detail) => `The ${d.figure} of a ${d.type} has no meaning. Choose another figure or column.`,
  figureNeedsGroup: (d: Detail) => `The figure ${q(d.figure)} needs “one row per …”.`,
  figureNeedsOrder: (d: Detail) => `The ${d.figure} value needs a field whose order tells which that is. Choose one.`,
  derivedBroken: (d: Detail) => `The derived field ${q(d.field)} cannot be worked out: ${d.why}`,
  circle: (d: Detail) => `These derived fields are worked out from each other in a circle: ${d.names}. Change one of them.`,
  lookupMany: (d: Detail) => `The link ${q(d.link)} leads to many, so no one value can be looked up from ${q(d.table)}. Make a rollup of it.`,
  rollupFigure: (d: Detail) => `A rollup needs one figure over ${q(d.table)}. Choose it.`,
  linkTypes: (d: Detail) =>
    `${q(d.a)} is a ${d.aType} and ${q(d.b)} a ${d.bType}, or they are kept otherwise, so they cannot be compared. Choose columns of one type.`,
  postingView: (d: Detail) => `${q(d.table)} is a view, which cannot be written. Choose a table.`,
  postingGenerated: (d: Detail) => `The database works ${q(d.column)} out itself. Take its pair away.`,
  postingSame: (d: Detail) => `Rows are told apart by ${q(d.column)}, but nothing is paired with it. Pair it, or choose another column.`,
  postingNoSame: () => "Say by which columns a row is the same as one already there.",
  postingRequired: (d: Detail) => `${q(d.column)} must be filled in every row. Pair it with a column, or with a formula such as 0 or 'new'.`,
  postingNothing: () => "Nothing would be changed: pair a column besides those that say which row is the same.",
  orderGone: () => "The order names a column that is no longer there.",
  datePartType: (d: Detail) => `Only dates have a ${d.part}; this is a ${d.type}.`,
  bandType: (d: Detail) => `Only numbers are put together by bands; this is a ${d.type}.`,
  bandWidth: () => "The width of a band must be a number above 0, with no more digits after the point than its field.",
  syntax: (d: Detail) => `The formula cannot be read at character ${d.at}: ${d.expected}.`,
  unknownField: (d: Detail) => `The formula names ${q(d.name)}, which is not a column of a table brought here. Check the spelling, or bring its table.`,
  unknownFunction: (d: Detail) => `There is no function ${q(d.name)}. There are: ${d.known}.`,
  formulaType: (d: Detail) => `${d.where} at character ${d.at} needs ${d.wanted}, and this is ${d.found}.`,
  argumentCount: (d: Detail) => `${d.name} takes ${d.wanted}.`,
  limitRange: () => "The limit must be a whole number of 1 or more.",
  subjectGone: (d: Detail) => `The ${d.kind} this schedule runs is gone. Choose another in the schedule.`,
  queryGone: () => "The query this is made from is gone. Choose another query.",
  groupGone: (d: Detail) => `The query no longer shows the column ${q(d.column)} that this report uses. Choose another, or show it again.`,
  groupDouble: (d: Detail) => `The column ${q(d.column)} groups two levels. Choose another for one of them.`,
  pageTooSmall: (d: Detail) => `The margins leave ${d.width} × ${d.height} mm of paper, too little to print on. Make them smaller.`,
  pivotEmpty: () => "No figure is shown. Choose one, or count the rows.",
  showAsType: (d: Detail) => `The ${d.figure} is a ${d.type}, which cannot be shown as ${q(d.shown)}. Show it as is.`,
  showAsParts: (d: Detail) => `The ${d.figure} of parts does not add up to that of the whole, so it has no ${q(d.shown)}. Show it as is.`,
  pivotOrderGone: () => "The order names a figure that is no longer shown. Choose another.",
  pivotWide: (d: Detail) =>
    `${d.count} columns stand across, and ${d.most} are the most that can be shown. Show the first 50 and the rest as one, or group them.`,
  pivotLong: (d: Detail) =>
    `${d.count} headings stand down, and ${d.most} are the most that can be shown. Show the first of them and the rest as one, or group them.`,
  pivotLarge: (d: Detail) => `This pivot has more than ${d.most} figures. Show the first of each field and the rest as one, or take a field away.`,
  chartAlong: () => "Nothing runs along the chart. Put a field there.",
  chartPoints: (d: Detail) =>
    d.count === 1
      ? "This kind of chart needs one field of numbers. Put it on the last shelf."
      : `This kind of chart needs ${d.count} fields of numbers. Put them on the last shelf.`,
  chartNumber: (d: Detail) => `${q(d.field)} is a ${d.type}, and a number is needed here. Choose another field.`,
  chartParts: (d: Detail) =>
    `The ${d.figure} of parts does not add up to that of the whole, so ${d.kind} cannot put parts of it together. Draw ${d.instead}, or choose a total or a count.`,
  chartMany: (d: Detail) => `There are more than ${d.most} rows to draw as points. Narrow them with a condition, or draw bars or boxes.`,
  closingGone: (d: Detail) => `The ${d.kind} printed after the rows is gone. Take it off under “Page”.`,
  letterRow: (d: Detail) =>
    `The table ${q(d.table)} needs letters of one row each, and this query groups its rows. Choose a query without groups, or take the table out.`,
  letterTableGone: () => "A table of related rows that this letter names is gone. Take its place out of the text.",
  letterNone: () => "The query gives no row, so there is no letter to write. Look at its conditions and parameters.",
  letterCondition: () => "A passage’s condition must be a formula that is true or false, such as balance > 0.",
  tileGone: (d: Detail) => `The ${d.kind} this tile shows is gone. Choose another, or take the tile off.`,
  ability: (d: Detail) => `${d.dialect} cannot do ${d.ability}, which ${q(d.field)} needs.`,
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
