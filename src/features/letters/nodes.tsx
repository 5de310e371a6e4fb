"use client";

import { Extension, mergeAttributes, Node } from "@tiptap/core";
import { NodeViewContent, type NodeViewProps, NodeViewWrapper, ReactNodeViewRenderer } from "@tiptap/react";
import StarterKit from "@tiptap/starter-kit";
import { whenWords } from "@/core/brief/letterBrief";
import type { When } from "@/core/letter/spec";
import { sameName } from "@/core/query/operands";
import type { ColumnFormat } from "@/core/types/schemas";
import { isDated, isNumber } from "@/core/types/valueType";
import { BriefPopover } from "@/ui/Brief";
import { DigitsInput } from "../editors/DigitsInput";
import { FormulaField } from "../editors/FormulaField";
import { Remove } from "../editors/parts";
import { COMMON } from "../words";
import { useLetter } from "./context";
import { Picture } from "./Picture";
import { TYPED_TABLE } from "./typedTable";
import { WhenEditor } from "./When";
import { WORDS } from "./words";

/* What a letter's texts hold beside plain words: fields, passages, tables of related rows and typed ones, pictures, page ends. */

const FIELD_NOTE = WORDS.columnNamesOfTheQuery;

const unquoted = (formula: string): string => formula.trim().replace(/^"(.*)"$/, "$1");

function FieldView({ node, updateAttributes, deleteNode }: NodeViewProps) {
  const { fields, problems } = useLetter();
  const { formula, format } = node.attrs as { formula: string; format: ColumnFormat | null };
  const problem = problems.get(`fields ${formula}`) ?? null;
  const known = fields.find((f) => sameName(unquoted(formula), f.formulaName));
  const set = (next: ColumnFormat) => updateAttributes({ format: Object.values(next).some((v) => v !== undefined) ? next : null });
  return (
    <NodeViewWrapper as="span" className="inline-block align-baseline">
      <BriefPopover
        label={known?.formulaName ?? (formula || "formula")}
        name={WORDS.fieldOf(known?.formulaName ?? formula)}
        className={`rounded border px-1 leading-5.5 ${problem ? "border-vermilion bg-vermilion-tint text-vermilion" : "border-bottle/40 bg-bottle-tint text-bottle"} ${known ? "" : "font-mono text-[0.85em]"}`}
        onDelete={deleteNode}
      >
        {() => (
          <div className="grid gap-3">
            <FormulaField text={formula} fields={fields} problem={problem} onChange={(next) => updateAttributes({ formula: next })} note={FIELD_NOTE} focused />
            <label className="grid gap-0.5 text-small">
              {COMMON.dateFormat}
              <select
                className="field"
                disabled={known && !isDated(known.type)}
                value={format?.date ?? ""}
                onChange={(e) => set({ ...format, date: (e.target.value || undefined) as ColumnFormat["date"] })}
              >
                <option value="">{WORDS.asInTheColumn}</option>
                <option value="short">{COMMON.shortDate}</option>
                <option value="long">{COMMON.longDate}</option>
                <option value="iso">2026-09-17</option>
                <option value="month">{WORDS.sep2026}</option>
                <option value="year">2026</option>
              </select>
            </label>
            {(!known || isNumber(known.type)) && (
              <DigitsInput
                label={COMMON.decimalPlaces}
                none={COMMON.asStored}
                digits={format?.decimals}
                onChange={(decimals) => set({ ...format, decimals })}
              />
            )}
            <Remove onClick={deleteNode}>{WORDS.removeField}</Remove>
          </div>
        )}
      </BriefPopover>
    </NodeViewWrapper>
  );
}

const Field = Node.create({
  name: "field",
  group: "inline",
  inline: true,
  atom: true,
  selectable: true,
  addAttributes: () => ({ formula: { default: "" }, format: { default: null } }),
  parseHTML: () => [{ tag: "span[data-field]" }],
  renderHTML: ({ HTMLAttributes }) => ["span", mergeAttributes({ "data-field": HTMLAttributes.formula })],
  renderText: ({ node }) => `{${node.attrs.formula}}`,
  addNodeView: () => ReactNodeViewRenderer(FieldView, { as: "span" }),
});

function PassageView({ node, updateAttributes, deleteNode, editor, getPos }: NodeViewProps) {
  const { problems, tables } = useLetter();
  const when = node.attrs.when as When;
  const set = (next: When) => updateAttributes({ when: next });
  const problem = when.kind === "formula" ? (problems.get(`conditions ${when.text}`) ?? null) : null;
  const titleOf = (id: string) => tables.find((t) => t.id === id)?.title ?? WORDS.aMissingTable;
  const unwrap = () => {
    const at = getPos();
    if (at === undefined) return;
    editor
      .chain()
      .focus(at + 2)
      .lift("passage")
      .run();
  };
  return (
    <NodeViewWrapper className="my-1.5 border-l-[3px] border-ochre bg-ochre-tint/40 py-1 pl-3">
      <div contentEditable={false} className="pb-0.5 text-small text-soft select-none">
        {WORDS.onlyWhen}{" "}
        <BriefPopover
          label={whenWords(when, titleOf)}
          name={WORDS.conditionOfThisText}
          className={`border-b border-dotted font-semibold ${problem ? "border-vermilion text-vermilion" : "border-ochre text-ochre"}`}
        >
          {(close) => (
            <div className="grid gap-2">
              <WhenEditor label={WORDS.printWhen} when={when} set={(next) => next && set(next)} problem={problem} />
              <button
                type="button"
                className="link justify-self-start"
                onClick={() => {
                  close();
                  unwrap();
                }}
              >
                {WORDS.alwaysPrint}
              </button>
              <Remove onClick={deleteNode}>{WORDS.removeText}</Remove>
            </div>
          )}
        </BriefPopover>
      </div>
      <NodeViewContent />
    </NodeViewWrapper>
  );
}

const Passage = Node.create({
  name: "passage",
  group: "block",
  content: "block+",
  defining: true,
  addAttributes: () => ({ when: { default: { kind: "formula", text: "" } } }),
  parseHTML: () => [{ tag: "div[data-passage]" }],
  renderHTML: () => ["div", { "data-passage": "" }, 0],
  addNodeView: () => ReactNodeViewRenderer(PassageView),
});

function RelatedView({ node, deleteNode }: NodeViewProps) {
  const { tables, openTable, problems } = useLetter();
  const table = tables.find((t) => t.id === node.attrs.table);
  const wrong = [...problems.keys()].some((k) => k === `tables ${node.attrs.table}`);
  return (
    <NodeViewWrapper className="my-2">
      <div contentEditable={false} className={`border bg-paper px-3 py-2 select-none ${wrong ? "border-vermilion" : "border-rule"}`}>
        <div className="flex flex-wrap items-baseline gap-x-3">
          <b className="font-serif text-[1.0625rem]">{table?.title || (table ? WORDS.untitledTable : WORDS.missingTable)}</b>
          {table?.hideEmpty && <span className="text-small text-soft">{WORDS.leftOutWithItsHeading}</span>}
          <span className="ml-auto flex gap-3 text-small">
            {table && (
              <button type="button" className="link min-h-6 min-w-6" onClick={() => openTable(table.id)}>
                {COMMON.edit}
              </button>
            )}
            <button type="button" className="min-h-6 font-semibold text-vermilion hover:underline" onClick={deleteNode}>
              {COMMON.remove}
            </button>
          </span>
        </div>
        {table && (
          <div className="mt-1.5 flex gap-4 border-t border-ink pt-1 text-small font-semibold">
            {table.headings.map((heading) => (
              <span key={heading}>{heading}</span>
            ))}
          </div>
        )}
      </div>
    </NodeViewWrapper>
  );
}

const RelatedTable = Node.create({
  name: "related",
  group: "block",
  atom: true,
  addAttributes: () => ({ table: { default: "" } }),
  parseHTML: () => [{ tag: "div[data-related]" }],
  renderHTML: ({ HTMLAttributes }) => ["div", { "data-related": HTMLAttributes.table }],
  addNodeView: () => ReactNodeViewRenderer(RelatedView),
});

const PageBreak = Node.create({
  name: "pageBreak",
  group: "block",
  atom: true,
  parseHTML: () => [{ tag: "div[data-page-break]" }],
  renderHTML: () => ["div", { "data-page-break": "", class: "my-3 border-t border-dashed border-faint text-center text-tiny text-soft" }, WORDS.pageBreak],
});

/** Which side of the page a paragraph keeps to. */
const Align = Extension.create({
  name: "align",
  addGlobalAttributes: () => [
    {
      types: ["paragraph", "heading"],
      attributes: {
        align: {
          default: null,
          parseHTML: (element) => element.style.textAlign || null,
          renderHTML: ({ align }) => (align ? { style: `text-align: ${align}` } : {}),
        },
      },
    },
  ],
});

/** Undoing is the page's: what is typed and what is set in the margin are taken back in one order. */
export const EXTENSIONS = [
  StarterKit.configure({
    blockquote: false,
    code: false,
    codeBlock: false,
    strike: false,
    link: false,
    underline: false,
    undoRedo: false,
    trailingNode: false,
    heading: { levels: [1, 2, 3] },
  }),
  Field,
  Passage,
  RelatedTable,
  ...TYPED_TABLE,
  Picture,
  PageBreak,
  Align,
];
