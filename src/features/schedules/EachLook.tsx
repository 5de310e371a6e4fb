"use client";

import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useEffect, useState } from "react";
import type { Page } from "@/core/report/page";
import type { ScheduleSpec } from "@/core/schedule/spec";
import { counted, writeCount } from "@/core/types/format";
import type { EachLook as Look } from "@/server/services/scheduler/each";
import type { ItemView, RunView } from "@/server/services/scheduler/state";
import { Notice } from "@/ui/Notice";
import { ask, sentenceOf } from "../ask";
import { PageList } from "../reports/PagedView";
import { useAnswer } from "../useAnswer";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { WORDS } from "./words";

type Looked = { items: Look[]; count: number; parted: number | null; whole: number | null };

/** Before anything is made: how many files there would be, how many of them have an address, are empty, or cannot be sent; each can be looked at. */
export function EachLookPanel({ spec }: { spec: ScheduleSpec }) {
  const locale = useLocale();
  const { each, subject, bindings } = spec;
  const asked = each?.match.every((m) => m.from !== "") ? { subject, bindings, each } : null;
  const { answer, failure } = useAnswer<Looked>("/api/schedules/each", asked, { settleMs: 200 });
  const [open, setOpen] = useState(false);
  if (!each) return null;
  if (failure) return <Notice tone="wrong">{failure.message}</Notice>;
  if (!answer) return <p className="text-small text-soft">{asked ? COMMON.counting : WORDS.chooseEachFirst}</p>;
  const { items } = answer;
  const some = (is: (item: Look) => boolean) => items.filter(is).length;
  const empty = some((i) => i.rows === 0);
  const sendable = some((i) => i.wrong === null && i.rows !== 0);
  const without = some((i) => i.wrong === "" && i.rows !== 0);
  const wrong = some((i) => Boolean(i.wrong));
  const left = answer.whole === null || answer.parted === null ? 0 : answer.whole - answer.parted;
  return (
    <div className="pt-1 text-small" data-testid="each">
      <p className="flex flex-wrap gap-x-4 gap-y-0.5">
        <b>{counted(answer.count - (each.skipEmpty ? empty : 0), WORDS.file, locale)}</b>
        {each.to !== null && <span>{WORDS.withAddress(writeCount(sendable, locale))}</span>}
        {each.to !== null && without > 0 && <span className="text-ochre">{WORDS.withoutAddress(writeCount(without, locale))}</span>}
        {wrong > 0 && <span className="text-vermilion">{WORDS.wrongAddress(writeCount(wrong, locale))}</span>}
        {empty > 0 && (
          <span className="text-soft">{each.skipEmpty ? WORDS.emptyLeftOut(writeCount(empty, locale)) : WORDS.emptyOnes(writeCount(empty, locale))}</span>
        )}
        {left > 0 && <span className="text-ochre">{WORDS.rowsInNone(counted(left, COMMON.row, locale))}</span>}
        {left < 0 && <span className="text-ochre">{WORDS.rowsInSeveral(counted(-left, COMMON.row, locale))}</span>}
        <button type="button" className="link" onClick={() => setOpen(true)}>
          {WORDS.previewEach}
        </button>
      </p>
      {open && asked && <EachDialog asked={asked} looked={answer} close={() => setOpen(false)} />}
    </div>
  );
}

type DialogProps = { asked: object; looked: Looked; close: () => void };

/** What is told of one beneath what it is called: what is wrong with its address, the address, or the name of its file where that is another. */
function Told({ item: { wrong, to, fileName, words } }: { item: Look }) {
  const said = wrong || to || (fileName === words ? "" : fileName);
  return said && <span className={`block truncate text-small ${wrong ? "text-vermilion" : "text-soft"}`}>{said}</span>;
}

/** Each of them in a list, with the pages of the one that is chosen. */
function EachDialog({ asked, looked, close }: DialogProps) {
  const locale = useLocale();
  const [at, setAt] = useState(0);
  const [wanted, setWanted] = useState("");
  const item = looked.items[at];
  const { answer, failure } = useAnswer<{ pages: Page[]; count: number }>("/api/schedules/each/pages", item ? { ...asked, key: item.key } : null, {
    settleMs: 50,
  });
  const shown = looked.items.flatMap((i, place) => (`${i.words} ${i.to}`.toLowerCase().includes(wanted.trim().toLowerCase()) ? [{ ...i, place }] : []));
  return (
    <Dialog open onClose={close} className="relative z-50">
      <div className="fixed inset-0 bg-ink/40" aria-hidden="true" />
      <DialogPanel className="fixed inset-6 mx-auto flex max-w-6xl flex-col rounded-md bg-paper shadow-xl">
        <div className="flex items-center gap-4 border-b border-rule px-5 py-3">
          <DialogTitle className="font-serif text-title font-semibold">{WORDS.previewEach}</DialogTitle>
          <button type="button" className="button ml-auto" onClick={close}>
            {COMMON.close}
          </button>
        </div>
        <div className="flex min-h-0 flex-1">
          <div className="flex w-80 shrink-0 flex-col border-r border-rule">
            <input
              className="field m-3 w-auto"
              aria-label={WORDS.findEach}
              placeholder={WORDS.findEach}
              value={wanted}
              onChange={(e) => setWanted(e.target.value)}
            />
            <ul className="min-h-0 flex-1 overflow-auto pb-3">
              {shown.slice(0, 500).map((i) => (
                <li key={i.key}>
                  <button
                    type="button"
                    aria-current={i.place === at ? "true" : undefined}
                    className={`block w-full px-4 py-1 text-left hover:bg-bottle-tint ${i.place === at ? "bg-bottle-tint" : ""}`}
                    onClick={() => setAt(i.place)}
                  >
                    <span className="flex justify-between gap-2">
                      <span className="truncate font-semibold">{i.words}</span>
                      {i.rows !== null && <span className="shrink-0 text-small text-soft">{counted(i.rows, COMMON.row, locale)}</span>}
                    </span>
                    <Told item={i} />
                  </button>
                </li>
              ))}
            </ul>
          </div>
          {/* biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls must be reachable by keyboard (WCAG 2.1.1) */}
          <section className="min-w-0 flex-1 overflow-auto bg-desk p-5" aria-label={COMMON.page} tabIndex={0}>
            {failure && <Notice tone="wrong">{failure.message}</Notice>}
            {answer && answer.pages.length === 0 && <Notice tone="look">{WORDS.nothingInIt}</Notice>}
            <div className="grid gap-4">{answer && <PageList pages={answer.pages} />}</div>
            {answer && answer.count > answer.pages.length && answer.pages.length > 0 && (
              <p className="pt-3 text-center text-soft">{WORDS.firstPagesOf(writeCount(answer.pages.length, locale), writeCount(answer.count, locale))}</p>
            )}
          </section>
        </div>
      </DialogPanel>
    </Dialog>
  );
}

/** How a run of many stands, and each of them on request. */
export function EachRun({ run }: { run: RunView }) {
  const locale = useLocale();
  const [items, setItems] = useState<ItemView[] | null>(null);
  const [open, setOpen] = useState(false);
  const [failure, setFailure] = useState("");
  useEffect(() => {
    if (!open) return;
    ask<{ items: ItemView[] }>("/api/schedules/items", { run: run.id }).then(
      (answer) => setItems(answer.items),
      (error) => setFailure(sentenceOf(error)),
    );
  }, [open, run.id]);
  const { each } = run;
  if (!each) return null;
  const parts = [
    WORDS.madeOf(writeCount(each.made, locale), writeCount(each.all - each.empty, locale)),
    each.sent > 0 ? WORDS.sentCount(writeCount(each.sent, locale)) : "",
    each.noAddress > 0 ? WORDS.withoutAddress(writeCount(each.noAddress, locale)) : "",
    each.empty > 0 ? WORDS.emptyLeftOut(writeCount(each.empty, locale)) : "",
  ];
  return (
    <div>
      <p className="text-soft">{parts.filter(Boolean).join(" · ")}</p>
      {each.troubled > 0 && <p className="text-vermilion">{WORDS.troubled(writeCount(each.troubled, locale))}</p>}
      <button type="button" className="link" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? WORDS.hideEach : WORDS.showEach}
      </button>
      {failure && <p className="text-vermilion">{failure}</p>}
      {open && items && (
        <ul className="max-h-64 overflow-auto pt-1">
          {items.map((i) => (
            <li key={`${i.words} ${i.to}`} className="border-t border-hairline py-0.5">
              <span className="flex justify-between gap-2">
                <span className="truncate">{i.words}</span>
                <span className="text-soft">{WORDS.itemStates[i.state]}</span>
              </span>
              {i.error && <span className="block text-vermilion">{i.error}</span>}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
