import type { Editor } from "@tiptap/core";
import { Table, TableCell, TableHeader, TableRow } from "@tiptap/extension-table";
import { Choice } from "../editors/parts";
import { WORDS } from "./words";

/** Cells are not joined: on paper each stands under its column's heading. What is pasted comes apart. */
const apart = () => ({
  colspan: { default: 1, parseHTML: () => 1 },
  rowspan: { default: 1, parseHTML: () => 1 },
  colwidth: { default: null, parseHTML: () => null },
});

/** A table that is typed into the text of a letter. */
export const TYPED_TABLE = [
  Table.extend({
    addAttributes: () => ({
      lines: {
        default: true,
        parseHTML: (element) => element.dataset.lines !== "false",
        renderHTML: ({ lines }) => ({ "data-lines": String(lines) }),
      },
    }),
  }),
  TableRow,
  TableCell.extend({ content: "paragraph+", addAttributes: apart }),
  TableHeader.extend({ content: "paragraph+", addAttributes: apart }),
];

/** What can be done with the table one writes in. */
export function TypedTableDeeds({ editor, close }: { editor: Editor; close: () => void }) {
  const lines = editor.getAttributes("table").lines !== false;
  const focused = () => {
    editor.view.focus();
    return editor.chain();
  };
  const deeds: [string, () => boolean][] = [
    [WORDS.rowAbove, () => focused().addRowBefore().run()],
    [WORDS.rowBelow, () => focused().addRowAfter().run()],
    [WORDS.columnBefore, () => focused().addColumnBefore().run()],
    [WORDS.columnAfter, () => focused().addColumnAfter().run()],
    [WORDS.headingRow, () => focused().toggleHeaderRow().run()],
    [lines ? WORDS.withoutLines : WORDS.withLines, () => focused().updateAttributes("table", { lines: !lines }).run()],
    [WORDS.deleteRow, () => focused().deleteRow().run()],
    [WORDS.deleteColumn, () => focused().deleteColumn().run()],
    [WORDS.deleteTable, () => focused().deleteTable().run()],
  ];
  return deeds.map(([words, act]) => (
    <Choice
      key={words}
      onClick={() => {
        close();
        act();
      }}
    >
      {words}
    </Choice>
  ));
}
