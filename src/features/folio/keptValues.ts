import type { ParameterValues } from "@/core/query/spec";

const isValues = (kept: unknown): kept is ParameterValues =>
  typeof kept === "object" && kept !== null && !Array.isArray(kept) && Object.values(kept).every((value) => typeof value === "string");

/** The values of parameters as a browser kept them; none where it kept nothing that can be read. */
export function keptValues(kept: string | null): ParameterValues {
  try {
    const values: unknown = JSON.parse(kept ?? "{}");
    return isValues(values) ? values : {};
  } catch {
    return {};
  }
}
