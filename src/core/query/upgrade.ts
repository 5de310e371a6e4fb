/*
 * Saved queries of earlier versions, brought up to the one of today. What is no query of an earlier version is handed on
 * as it is: the schema says what is wrong with it.
 */

type Saved = { version: number; joins?: unknown };

const isSaved = (saved: unknown): saved is Saved => typeof saved === "object" && saved !== null && "version" in saved;

/** Version 1 joined in two ways, and called them by what becomes of rows without a match. */
function fromFirst(saved: Saved): unknown {
  const joins = Array.isArray(saved.joins) ? saved.joins : [];
  return { ...saved, version: 2, joins: joins.map(({ unmatched, ...join }) => ({ ...join, way: unmatched })) };
}

/**
 * A saved query as the version of today has it.
 * @example upgradeQuery({ version: 1, joins: [{ id: "s", unmatched: "keep", … }], … }) // { version: 2, joins: [{ id: "s", way: "keep", … }], … }
 */
export const upgradeQuery = (saved: unknown): unknown => (isSaved(saved) && saved.version === 1 ? fromFirst(saved) : saved);
