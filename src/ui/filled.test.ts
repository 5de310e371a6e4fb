import { Children, isValidElement, type ReactElement, type ReactNode } from "react";
import { expect, it } from "vitest";
import { filled } from "./filled";

/** What is shown, pieces apart. */
const shown = (node: ReactNode): unknown[] =>
  Children.toArray(node).map((piece) => (isValidElement(piece) ? (piece as ReactElement<{ children?: ReactNode }>).props.children : piece));

it("puts each part where its number stands in the sentence, in whatever order a language wants", () => {
  expect(shown(filled("{1} of {0}.", "all", "some"))).toEqual(["", "some", " of ", "all", "."]);
  expect(shown(filled("No part."))).toEqual(["No part."]);
  expect(shown(filled("{0} and {0}", "twice"))).toEqual(["", "twice", " and ", "twice", ""]);
  expect(shown(filled("{2} is missing", "a"))).toEqual(["", undefined, " is missing"]);
});
