import { Fragment, type ReactNode } from "react";

/** A sentence with things in it: each {n} of the text gives its place to the part of that number, in whatever order a language wants them. */
export const filled = (text: string, ...parts: ReactNode[]): ReactNode =>
  text.split(/\{(\d+)\}/).map((piece, i) => <Fragment key={i}>{i % 2 ? parts[Number(piece)] : piece}</Fragment>);
