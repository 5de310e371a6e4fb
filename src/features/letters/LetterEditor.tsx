"use client";

import { Selection } from "@tiptap/pm/state";
import { type Editor, EditorContent, useEditor, useEditorState } from "@tiptap/react";
import { useEffect, useRef, useState } from "react";
import { writtenName } from "@/core/expression/parse";
import { TEXTS, type TextName } from "@/core/letter/choices";
import type { Doc } from "@/core/letter/spec";
import { BriefPopover } from "@/ui/Brief";
import { FormulaField } from "../editors/FormulaField";
import { Choice } from "../editors/parts";
import { COMMON } from "../words";
import { useLetter } from "./context";
import { EXTENSIONS } from "./nodes";
import { PictureChoice } from "./Picture";
import { TypedTableDeeds } from "./typedTable";
import { WORDS } from "./words";

const TEXT_NAMES: Record<TextName, string> = { letterhead: WORDS.letterhead, address: COMMON.address, body: COMMON.text, foot: WORDS.pageFooter };
/** Texts of the look of what is printed: letterhead and foot are small print, the address is narrow. */
const LOOK: Record<TextName, string> = {
  letterhead: "min-h-12",
  address: "min-h-20 max-w-[20rem]",
  body: "min-h-72",
  foot: "min-h-8 text-small text-soft",
};

type Props = {
  texts: Record<TextName, Doc>;
  onChange: (name: TextName, doc: Doc) => void;
  /** Told which text is written in, so that what is picked elsewhere goes there. */
  onActive: (insert: (formula: string) => void) => void;
  /** Tables that can be put into the text: by a name, made when chosen. */
  tables: { words: string; make: () => string }[];
  picture: React.ReactNode;
};

/** A letter on its paper: letterhead, address, text and foot, each written in its place, under one row of tools. */
export default function LetterEditor({ texts, onChange, onActive, tables, picture }: Props) {
  const [active, setActive] = useState<{ name: TextName; editor: Editor } | null>(null);
  const activate = (name: TextName, editor: Editor) => {
    setActive({ name, editor });
    onActive((formula) => insertField(editor, formula));
  };
  return (
    <div className="flex h-full min-h-0 flex-col">
      {active ? <Tools editor={active.editor} name={active.name} tables={tables} /> : <div className="h-11 border-b border-rule" />}
      <div className="min-h-0 flex-1 overflow-auto bg-desk px-6 py-5">
        <div className="printed mx-auto grid max-w-[46rem] gap-3 bg-white px-12 py-10 text-ink shadow-md">
          {TEXTS.map((name) => (
            <section key={name} className={name === "letterhead" ? "flex items-start gap-6" : ""}>
              <div className="min-w-0 flex-1">
                <p className="caption pb-0.5">{TEXT_NAMES[name]}</p>
                <TextEditor
                  label={TEXT_NAMES[name]}
                  doc={texts[name]}
                  look={LOOK[name]}
                  first={name === "body"}
                  onChange={(doc) => onChange(name, doc)}
                  onActive={(editor) => activate(name, editor)}
                />
              </div>
              {name === "letterhead" && picture}
            </section>
          ))}
        </div>
      </div>
    </div>
  );
}

/** A change where one writes, from the next key on: the chain's own focus comes a frame later, in which what is typed is lost. */
function writing(editor: Editor) {
  editor.view.focus();
  return editor.chain();
}

/** Puts a field where one writes; where that is bold or slanted, it is too. */
function insertField(editor: Editor, formula: string): void {
  const { storedMarks, selection } = editor.state;
  const marks = (storedMarks ?? selection.$from.marks()).map((mark) => ({ type: mark.type.name }));
  writing(editor).insertContent({ type: "field", attrs: { formula }, marks }).run();
}

function TextEditor({
  label,
  doc,
  look,
  first,
  onChange,
  onActive,
}: {
  label: string;
  doc: Doc;
  look: string;
  first: boolean;
  onChange: (doc: Doc) => void;
  onActive: (editor: Editor) => void;
}) {
  const told = useRef(doc);
  const latest = useRef({ onChange, onActive });
  latest.current = { onChange, onActive };
  const editor = useEditor({
    extensions: EXTENSIONS,
    content: doc,
    immediatelyRender: false,
    editorProps: {
      attributes: {
        class: `letter-text border border-dotted border-rule px-2 py-1 focus:border-faint ${look}`,
        role: "textbox",
        "aria-multiline": "true",
        "aria-label": label,
      },
    },
    onCreate: ({ editor: made }) => first && latest.current.onActive(made),
    onFocus: ({ editor: focused }) => latest.current.onActive(focused),
    onUpdate: ({ editor: changed }) => {
      told.current = changed.getJSON() as Doc;
      latest.current.onChange(told.current);
    },
  });
  // What came from here needs no bringing back; what was undone, or made elsewhere, does.
  useEffect(() => {
    if (!editor || doc === told.current) return;
    told.current = doc;
    const { from } = editor.state.selection;
    editor.commands.setContent(doc, { emitUpdate: false });
    const { tr } = editor.state;
    editor.view.dispatch(tr.setSelection(Selection.near(tr.doc.resolve(Math.min(from, tr.doc.content.size)))));
  }, [editor, doc]);
  return <EditorContent editor={editor} />;
}

const TOOL = "rounded px-2 py-1 hover:bg-bottle-tint aria-pressed:bg-bottle-tint aria-pressed:font-semibold aria-pressed:text-bottle";
const STYLES = [
  { value: "0", words: COMMON.text },
  { value: "1", words: WORDS.heading1 },
  { value: "2", words: WORDS.heading2 },
  { value: "3", words: WORDS.heading3 },
];

function Tools({ editor, name, tables }: { editor: Editor; name: TextName; tables: Props["tables"] }) {
  const now = useEditorState({
    editor,
    selector: ({ editor: e }) => ({
      inTable: e.isActive("table"),
      bold: e.isActive("bold"),
      italic: e.isActive("italic"),
      style: String([1, 2, 3].find((level) => e.isActive("heading", { level })) ?? 0),
      bullets: e.isActive("bulletList"),
      numbers: e.isActive("orderedList"),
      align: (["center", "right"] as const).find((align) => e.isActive({ align })) ?? "left",
    }),
  });
  const run = () => writing(editor);
  const align = (to: string | null) => run().updateAttributes("paragraph", { align: to }).updateAttributes("heading", { align: to }).run();
  const inBody = name === "body";
  const pressed = (words: string, on: boolean, label: React.ReactNode, act: () => void) => (
    <button type="button" className={TOOL} aria-pressed={on} aria-label={words} title={words} onClick={act}>
      {label}
    </button>
  );
  return (
    <div role="toolbar" aria-label={WORDS.textFormatting} className="flex flex-wrap items-center gap-1 border-b border-rule bg-paper px-5 py-1.5 text-base">
      <select
        className="field w-28"
        aria-label={WORDS.style}
        value={now.style}
        onChange={(e) => {
          const level = Number(e.target.value) as 0 | 1 | 2 | 3;
          if (level === 0) run().setParagraph().run();
          else run().setHeading({ level }).run();
        }}
      >
        {STYLES.map((s) => (
          <option key={s.value} value={s.value}>
            {s.words}
          </option>
        ))}
      </select>
      {pressed(WORDS.bold, now.bold, <b>B</b>, () => run().toggleBold().run())}
      {pressed(WORDS.italic, now.italic, <i>I</i>, () => run().toggleItalic().run())}
      <select className="field w-24" aria-label={WORDS.alignment} value={now.align} onChange={(e) => align(e.target.value === "left" ? null : e.target.value)}>
        <option value="left">{WORDS.left}</option>
        <option value="center">{WORDS.centre}</option>
        <option value="right">{WORDS.right}</option>
      </select>
      {pressed(WORDS.bulletedList, now.bullets, "• –", () => run().toggleBulletList().run())}
      {pressed(WORDS.numberedList, now.numbers, "1. –", () => run().toggleOrderedList().run())}
      <span className="mx-1 h-5 border-l border-rule" />
      <BriefPopover label={WORDS.field} className={TOOL}>
        {(close) => (
          <FieldChoices
            pick={(formula) => {
              close();
              insertField(editor, formula);
            }}
          />
        )}
      </BriefPopover>
      <button type="button" className={TOOL} onClick={() => insertPassage(editor)}>
        {WORDS.conditionalText}
      </button>
      <BriefPopover label={WORDS.table} className={`${TOOL} ${inBody ? "" : "invisible"}`}>
        {(close) =>
          now.inTable ? (
            <TypedTableDeeds editor={editor} close={close} />
          ) : (
            [{ words: WORDS.emptyTable, make: null }, ...tables].map((t) => (
              <Choice
                key={t.words}
                onClick={() => {
                  close();
                  if (t.make === null) run().insertTable({ rows: 3, cols: 2, withHeaderRow: true }).run();
                  else
                    run()
                      .insertContent({ type: "related", attrs: { table: t.make() } })
                      .run();
                }}
              >
                {t.words}
              </Choice>
            ))
          )
        }
      </BriefPopover>
      {inBody && <InsertMenu run={run} />}
    </div>
  );
}

/** A picture, a line or a page's end, put where one writes. */
function InsertMenu({ run }: { run: () => ReturnType<typeof writing> }) {
  return (
    <BriefPopover label={WORDS.more} className={TOOL}>
      {(close) => {
        const insert = (act: () => void): void => {
          close();
          act();
        };
        const put = (content: object) => insert(() => run().insertContent(content).run());
        return (
          <>
            <PictureChoice
              words={WORDS.picture}
              className="menu-item focus-within:bg-bottle-tint"
              use={(picture) => put({ type: "picture", attrs: { ...picture, widthMm: 60 } })}
            />
            <Choice onClick={() => insert(() => run().setHorizontalRule().run())}>{WORDS.line}</Choice>
            <Choice onClick={() => put({ type: "pageBreak" })}>{COMMON.pageBreak}</Choice>
          </>
        );
      }}
    </BriefPopover>
  );
}

/** The blocks that are chosen become a passage; where none are, an empty one. */
function insertPassage(editor: Editor): void {
  const wrapped = !editor.state.selection.empty && writing(editor).wrapIn("passage").run();
  if (!wrapped)
    writing(editor)
      .insertContent({ type: "passage", attrs: { when: { kind: "formula", text: "" } }, content: [{ type: "paragraph" }] })
      .run();
}

function FieldChoices({ pick }: { pick: (formula: string) => void }) {
  const { fields } = useLetter();
  const [formula, setFormula] = useState("");
  return (
    <>
      <p className="caption pb-1">{WORDS.queryColumn}</p>
      {fields.map((f) => (
        <Choice key={f.formulaName} onClick={() => pick(writtenName(f.formulaName))}>
          {f.formulaName}
        </Choice>
      ))}
      <div className="grid gap-2 border-t border-hairline pt-2">
        <FormulaField
          text={formula}
          fields={fields}
          problem={null}
          onChange={setFormula}
          placeholder="CURRENT_DATE + INTERVAL '14' DAY"
          note={WORDS.orAFormula}
        />
        <button type="button" className="button-primary justify-self-start" disabled={formula.trim() === ""} onClick={() => pick(formula)}>
          {WORDS.insert}
        </button>
      </div>
    </>
  );
}
