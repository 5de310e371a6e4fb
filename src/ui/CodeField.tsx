"use client";

import { autocompletion, type Completion, type CompletionContext, completionStatus } from "@codemirror/autocomplete";
import { forceLinting, linter } from "@codemirror/lint";
import { EditorState } from "@codemirror/state";
import { EditorView, placeholder as placeholderOf } from "@codemirror/view";
import { minimalSetup } from "codemirror";
import { useEffect, useRef } from "react";
import { afterShown, withTold } from "./toldTexts";

export type CodeWord = { label: string; kind: "field" | "function" | "parameter"; detail?: string; info?: string; apply?: string };
type Props = {
  label: string;
  value: string;
  onChange: (next: string) => void;
  words: CodeWord[];
  /** What is wrong, and from which character (from 0); whole where that is not known. */
  problem: { at: number | null; message: string } | null;
  placeholder?: string;
  /** Whether it takes the focus when it comes up. */
  focused?: boolean;
};

const THEME = EditorView.theme({
  "&": { fontSize: "0.8125rem", border: "1px solid var(--color-faint)", borderRadius: "4px", background: "var(--color-sheet)", minHeight: "4.5rem" },
  "&.cm-focused": { outline: "2px solid var(--color-bottle)", outlineOffset: "1px" },
  ".cm-content": { fontFamily: "var(--font-mono)", caretColor: "var(--color-ink)", minHeight: "4.5rem" },
  ".cm-placeholder": { color: "var(--color-soft)" },
  ".cm-tooltip": { background: "var(--color-sheet)", border: "1px solid var(--color-rule)", fontFamily: "var(--font-sans)" },
  ".cm-tooltip-autocomplete ul li[aria-selected]": { background: "var(--color-bottle-tint)", color: "var(--color-ink)" },
  ".cm-lintRange-error": { backgroundImage: "none", borderBottom: "2px solid var(--color-vermilion)" },
});

/** A field for one formula: completes the words it is given and underlines where it cannot be read. */
export default function CodeField({ label, value, onChange, words, problem, placeholder = "", focused = false }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  /** What was typed and is not shown by the page yet; null while the page changes the text. */
  const told = useRef<string[] | null>([]);
  const latest = useRef({ onChange, words, problem });
  latest.current = { onChange, words, problem };

  useEffect(() => {
    if (!place.current) return;
    const complete = (context: CompletionContext) => {
      const before = context.matchBefore(/[\p{L}_][\p{L}\p{N}_.]*|"[^"]*/u);
      if (!before && !context.explicit) return null;
      const options = latest.current.words.map(
        (w): Completion => ({
          label: w.label,
          apply: w.apply ?? w.label,
          type: w.kind === "function" ? "function" : "property",
          ...(w.detail ? { detail: w.detail } : {}),
          ...(w.info ? { info: w.info } : {}),
        }),
      );
      return { from: before?.from ?? context.pos, options, validFor: /^"?[\p{L}\p{N}_. ]*$/u };
    };
    const check = linter(
      ({ state }) => {
        const { problem: found } = latest.current;
        if (!found) return [];
        const from = Math.min(found.at ?? 0, Math.max(0, state.doc.length - 1));
        const word = /^([\p{L}\p{N}_"'.]+|.)/u.exec(state.doc.sliceString(from))?.[0].length ?? 1;
        return [
          { from, to: Math.min(state.doc.length, found.at === null ? state.doc.length : from + word), severity: "error" as const, message: found.message },
        ];
      },
      { delay: 150 },
    );
    view.current = new EditorView({
      parent: place.current,
      state: EditorState.create({
        doc: value,
        extensions: [
          minimalSetup,
          autocompletion({ override: [complete], icons: false }),
          check,
          THEME,
          EditorView.lineWrapping,
          // Escape closes the list of words alone, not what the field stands in.
          EditorView.domEventHandlers({
            keydown: (event, editor) => {
              if (event.key === "Escape" && completionStatus(editor.state) !== null) event.stopPropagation();
            },
          }),
          placeholderOf(placeholder),
          EditorView.contentAttributes.of({ "aria-label": label }),
          EditorView.updateListener.of((update) => {
            if (!update.docChanged || told.current === null) return;
            const text = update.state.doc.toString();
            told.current = withTold(told.current, text);
            latest.current.onChange(text);
          }),
        ],
      }),
    });
    if (focused) view.current.focus();
    return () => view.current?.destroy();
  }, []);

  useEffect(() => {
    const editor = view.current;
    const later = afterShown(told.current ?? [], value);
    told.current = later ?? [];
    if (!editor || later !== null || editor.state.doc.toString() === value) return;
    told.current = null;
    editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: value } });
    told.current = [];
  }, [value]);
  useEffect(() => {
    if (view.current) forceLinting(view.current);
  }, [problem]);

  return <div ref={place} />;
}
