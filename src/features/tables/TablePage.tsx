"use client";

import dynamic from "next/dynamic";
import { useRouter } from "next/navigation";
import { useCallback, useMemo, useState } from "react";
import { asChanged } from "@/core/derive/changed";
import { withDraft } from "@/core/derive/derive";
import { firstDefinition } from "@/core/derive/first";
import { sortBy } from "@/core/query/editOrder";
import { resolveQuery } from "@/core/query/resolve";
import type { QuerySpec } from "@/core/query/spec";
import { findTable, mayChange, mayReshape, type Schema, type Table } from "@/core/schema/schema";
import type { Today } from "@/core/types/calendar";
import { counted } from "@/core/types/format";
import { TYPE_WORDS } from "@/core/types/valueType";
import { filled } from "@/ui/filled";
import { Margin } from "@/ui/Margin";
import { Notice } from "@/ui/Notice";
import type { SheetEdit } from "@/ui/sheetParts";
import type { Draft } from "../derived/DerivedEditor";
import { RepairAll } from "../derived/RepairAll";
import { removeDerived } from "../derived/removeDerived";
import { WORDS as DERIVED_WORDS } from "../derived/words";
import { folioOpener } from "../folio/folioOpener";
import { Link } from "../Link";
import { QuerySheet } from "../queries/QuerySheet";
import { useRun } from "../queries/useRun";
import { UndoButtons } from "../UndoButtons";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { PageHeading } from "../workspace/PageHeading";
import { allColumns } from "./allColumns";
import { ColumnsPanel } from "./ColumnsPanel";
import { HeadingChoices } from "./HeadingChoices";
import { sheetEdit } from "./sheetEdit";
import { useRowEdits } from "./useRowEdits";
import { WORDS } from "./words";

const DerivedEditor = dynamic(() => import("../derived/DerivedEditor").then((m) => m.DerivedEditor), { loading: () => null });
const DeleteTable = dynamic(() => import("../shape/DeleteTable").then((m) => m.DeleteTable), { loading: () => null });
const LinksPanel = dynamic(() => import("./LinksPanel").then((m) => m.LinksPanel), { loading: () => null });
const NewRow = dynamic(() => import("./NewRow").then((m) => m.NewRow), { loading: () => null });

/** A derived field of the table as it is changed; null where there is none of that id. */
function draftOf(table: Table, id: string | undefined): Draft | null {
  const column = table.columns.find((c) => c.name === id);
  if (id === undefined || !column?.derived) return null;
  const { label, format, unit, derived } = column;
  return { version: 1, id, label, table: table.name, definition: derived.definition, format, unit, isNew: false };
}

/** What a field that is changed is called today. */
const nowOf = (table: Table, { id, label }: Draft): string => table.columns.find((c) => c.name === id)?.label ?? label;

/** Where the parts of the margin stand. */
const DERIVED = 2;

/**
 * One table: its rows as a sheet; its columns, links and derived fields in the margin.
 * @param derived the derived field that is opened to be changed
 */
export function TablePage({ table: stored, schema, today, derived }: { table: Table; schema: Schema; today: Today; derived?: string | undefined }) {
  const router = useRouter();
  const locale = useLocale();
  const [draft, setDraft] = useState<Draft | null>(() => draftOf(stored, derived));
  const now = useMemo(() => draftOf(stored, draft?.id), [stored, draft?.id]);
  const [part, setPart] = useState(draft ? DERIVED : 0);
  const [adding, setAdding] = useState(false);
  const [order, setOrder] = useState<QuerySpec["order"]>([]);
  const { table, spec, plan, run, rows } = useTable(stored, schema, today, draft, order);
  const writable = stored.key.length > 0 && mayChange(stored) && !stored.trigger && run.shown?.plan === plan;
  const edit: SheetEdit | undefined = writable ? sheetEdit({ table: stored, spec, schema, run, make: rows.make, notation: { locale, today } }) : undefined;

  const back = `/tables/${encodeURIComponent(stored.name)}`;
  const keyed = stored.key.length > 0;
  const openFolio = keyed ? folioOpener({ spec, values: {}, schema, rows: run.rows ?? 0, back, label: stored.label, go: router.push }) : undefined;

  const editDraft = (next: Draft) => {
    setDraft(next);
    setPart(DERIVED);
  };
  const change = (id: string) => {
    const next = draftOf(stored, id);
    if (next) editDraft(next);
  };
  const begin = (kind: "formula" | "lookup" | "rollup", from?: Draft["definition"]) => {
    const definition = from ?? firstDefinition(kind, stored, schema);
    if (definition) editDraft({ version: 1, id: "draft", label: "", table: table.name, definition, isNew: true });
  };

  const endDraft = () => {
    setDraft(null);
    setPart(0);
    router.refresh();
  };
  const startAdding = () => {
    setAdding(true);
    setPart(draft ? DERIVED + 1 : DERIVED);
  };
  const endAdding = () => {
    setAdding(false);
    setPart(0);
  };

  return (
    <div className="flex h-full">
      <section className="flex min-w-0 flex-1 flex-col gap-3 px-5 pt-4">
        <TableHead table={stored} rows={rows} add={writable ? startAdding : undefined} derive={() => begin("formula")} />
        <TableNotices table={table} schema={schema} change={change} removed={() => router.refresh()} />
        {run.failure && <Notice tone="wrong">{run.failure.message}</Notice>}
        {run.shown && (
          <QuerySheet
            plan={run.shown.plan}
            run={run}
            name={table.label}
            edit={edit}
            onOpen={openFolio}
            onSort={(column) => setOrder(sortBy(spec, column).order)}
            menu={(column, close) => (
              <HeadingChoices
                column={column}
                table={stored}
                schema={schema}
                close={close}
                sort={(direction) => setOrder([{ column, direction }])}
                begin={begin}
                change={change}
                removed={() => router.refresh()}
              />
            )}
          />
        )}
      </section>
      <Margin
        selected={part}
        onSelect={setPart}
        parts={[
          {
            name: COMMON.columns,
            content: (
              <>
                <ColumnsPanel table={table} onChange={change} onSaved={() => router.refresh()} />
                {mayReshape(stored) && <DeleteTable table={stored} rows={run.rows ?? stored.rows} />}
              </>
            ),
          },
          { name: WORDS.links, content: <LinksPanel table={stored} schema={schema} onSaved={() => router.refresh()} /> },
          ...(draft
            ? [
                {
                  name: WORDS.derived,
                  content: (
                    <DerivedEditor
                      key={draft.id}
                      {...{ draft, now, table: stored, schema, today, rows: run.rows ?? stored.rows }}
                      onChange={setDraft}
                      onDone={endDraft}
                    />
                  ),
                },
              ]
            : []),
          ...(adding
            ? [
                {
                  name: WORDS.newRow,
                  content: <NewRow table={stored} schema={schema} make={rows.make} onDone={endAdding} />,
                },
              ]
            : []),
        ]}
      />
    </div>
  );
}

type HeadProps = {
  table: Table;
  rows: ReturnType<typeof useRowEdits> /** Undefined where no row can be added. */;
  add: (() => void) | undefined;
  derive: () => void;
};

/** A table's name, and what can be done with it. */
function TableHead({ table, rows, add, derive }: HeadProps) {
  return (
    <div className="flex flex-wrap items-center gap-3">
      <PageHeading name={table.label} />
      <Link href="/tables" className="text-small text-soft hover:text-ink">
        {WORDS.allTables}
      </Link>
      <span className="ml-auto flex flex-wrap justify-end gap-2">
        {(rows.canUndo || rows.canRedo) && <UndoButtons undo={rows.undo} redo={rows.redo} canUndo={rows.canUndo} canRedo={rows.canRedo} />}
        {add && (
          <button type="button" className="button" onClick={add}>
            {WORDS.addRow}
          </button>
        )}
        {mayReshape(table) && (
          <Link href={`/tables/${encodeURIComponent(table.name)}/shape`} className="button">
            {WORDS.changeColumns}
          </Link>
        )}
        <button type="button" className="button" onClick={derive}>
          {WORDS.addDerivedField}
        </button>
        <Link href={`/queries/new?from=${encodeURIComponent(table.name)}`} className="button-primary">
          {COMMON.newQuery}
        </Link>
      </span>
    </div>
  );
}

type NoticesProps = { table: Table; schema: Schema; change: (derived: string) => void; removed: () => void };

/** What somebody should know of a table: that it has no key, that values do not fit, that derived fields are broken. */
function TableNotices({ table, schema, change, removed }: NoticesProps) {
  const locale = useLocale();
  const misfits = table.columns.filter((c) => c.misfits > 0);
  const broken = schema.broken?.filter((b) => b.kind === "derived" && b.table === table.name) ?? [];
  return (
    <>
      {table.key.length === 0 && (
        <Notice tone="look">
          {WORDS.thisTableHasNoKey}{" "}
          {mayReshape(table) && (
            <Link href={`/tables/${encodeURIComponent(table.name)}/shape`} className="link">
              {WORDS.giveKey}
            </Link>
          )}
        </Notice>
      )}
      {table.denied && table.key.length > 0 && <Notice tone="look">{WORDS.denied}</Notice>}
      {table.trigger && <Notice tone="look">{WORDS.hasTrigger(table.trigger)}</Notice>}
      {misfits.length > 0 && (
        <Notice tone="look">
          {WORDS.misfitsNote(
            misfits.map((c) => WORDS.misfits(counted(c.misfits, "value", locale), c.label, c.misfits === 1 ? "is" : "are", TYPE_WORDS[c.type.kind])).join("; "),
          )}
        </Notice>
      )}
      <RepairAll table={table} schema={schema} done={removed} />
      {broken.map((b) => (
        <Notice key={b.id} tone="wrong">
          {filled(
            WORDS.derivedBroken,
            b.label,
            b.why,
            <button type="button" className="link" onClick={() => change(b.id)}>
              {WORDS.repair}
            </button>,
            <button type="button" className="link" onClick={() => void removeDerived(b.id, b.label, removed)}>
              {COMMON.remove}
            </button>,
          )}
        </Notice>
      ))}
    </>
  );
}

/** A table's rows, the field that is being derived among its columns, and the changes made in its sheet. */
function useTable(stored: Table, schema: Schema, today: Today, draft: Draft | null, order: QuerySpec["order"]) {
  const named = useMemo(() => {
    if (!draft) return null;
    return draft.isNew ? { ...draft, label: draft.label.trim() || WORDS.newField } : asChanged(draft, DERIVED_WORDS.changedField(nowOf(stored, draft)));
  }, [draft, stored]);
  const shown = useMemo(() => (named ? withDraft(schema, named, today) : schema), [schema, named, today]);
  const table = findTable(shown, stored.name) ?? stored;
  const spec = useMemo(() => allColumns(table, order, named && draft ? [named.id, draft.id] : []), [table, order, named?.id, draft?.id]);
  const resolved = useMemo(() => resolveQuery(spec, shown, { today, values: {} }), [spec, shown, today]);
  const plan = resolved.ok ? resolved.value : null;
  const drawn = named && table.columns.some((c) => c.name === named.id && !c.derived?.broken) ? named : undefined;
  const run = useRun(plan ? { spec, values: {}, draft: drawn } : null, plan);
  const onChanged = useCallback(() => run.again(), [run.again]);
  const rows = useRowEdits(stored, onChanged);
  return { table, spec, plan, run, rows };
}
