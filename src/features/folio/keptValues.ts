import { type ParameterValues, parameterValuesSchema } from "@/core/query/spec";

/** The values of parameters as a browser kept them; none where it kept nothing that can be read. */
export function keptValues(kept: string | null): ParameterValues {
  try {
    return parameterValuesSchema.parse(JSON.parse(kept ?? "{}"));
  } catch {
    return {};
  }
}
