"use client";

import { ADDRESS_WINDOW_NAMES, ADDRESS_WINDOWS } from "@/core/letter/choices";
import { letterVerdict } from "@/core/letter/proof";
import type { LetterSpec, Related } from "@/core/letter/spec";
import type { PlanParameter } from "@/core/query/plan";
import { PAPERS } from "@/core/report/choices";
import type { Schema, Table } from "@/core/schema/schema";
import { cellWriter, counted, writeCount } from "@/core/types/format";
import { pictureAddress } from "@/core/types/picture";
import type { Problem } from "@/core/types/problem";
import type { LetterProof } from "@/server/services/letters/service";
import { Notice } from "@/ui/Notice";
import { BoundParameters } from "../editors/BoundParameters";
import { FormulaField, type Named } from "../editors/FormulaField";
import { Remove } from "../editors/parts";
import { PanelBrief } from "../folio/PanelBrief";
import { COMMON } from "../words";
import { useLocale } from "../workspace/locale";
import { PictureChoice } from "./Picture";
import { WhenEditor } from "./When";
import { WORDS } from "./words";

type Edit = { spec: LetterSpec; change: (next: LetterSpec, kind?: string) => void };

/** That every row has a letter and none has two, and of each table what was printed beside what there is. */
export function LetterProofPanel({ proof, spec, running }: { proof: LetterProof | null; spec: LetterSpec; running: boolean }) {
  const locale = useLocale();
  if (!proof) return <p className="text-soft">{running ? COMMON.counting : WORDS.theProofAppearsWhenThe}</p>;
  const without = proof.without.count;
  const verdict = letterVerdict({ ...proof, without });
  const line = (words: string, value: string, strong = false) => (
    <tr className={strong ? "border-t border-b-[3px] border-ink font-semibold [border-bottom-style:double]" : "border-t border-hairline"}>
      <th scope="row" className={`py-1 text-left ${strong ? "" : "font-normal"}`}>
        {words}
      </th>
      <td className="text-right">{value}</td>
    </tr>
  );
  return (
    <div className="grid gap-4">
      <Notice tone={verdict.kind === "agrees" ? "agrees" : "wrong"}>
        {verdict.kind === "agrees" ? (
          <>
            <b>✓ {counted(proof.letters, "letter", locale)}</b>
            {without > 0 ? WORDS.ofRowsOfTheQuery(writeCount(without, locale), writeCount(proof.queryRows, locale)) : WORDS.oneForEachRowOf}
            {proof.different !== null && proof.letters > 0 && WORDS.andNoRowHasTwo}.
          </>
        ) : verdict.kind === "twice" ? (
          <>
            <b>{WORDS.tooManyLetters(counted(verdict.letters, "letter", locale))}</b> {WORDS.theQueryRepeatsRowsSee}
          </>
        ) : (
          <b>{WORDS.lettersDiffer(counted(proof.letters + without, "letter", locale), counted(proof.queryRows, "row", locale))}</b>
        )}
      </Notice>
      {proof.tables.map((table) => {
        const outside = table.inTable ? table.inTable.rows - table.rows : null;
        return (
          <table key={table.id} className="w-full text-small">
            <caption className="caption pb-1 text-left">{table.title || WORDS.untitledTable}</caption>
            <tbody>
              {line(WORDS.lettersWithRows, writeCount(table.withRows, locale))}
              {line(WORDS.lettersWithoutRows, writeCount(proof.letters - table.withRows, locale))}
              {line(WORDS.rowsPrinted, writeCount(table.rows, locale), true)}
              {outside !== null && line(outside < 0 ? WORDS.printedMoreThanOnce : WORDS.rowsNotInAnyLetter, writeCount(Math.abs(outside), locale))}
              {table.columns.map((c) => {
                const write = cellWriter(c.type, {}, locale);
                return (
                  <tr key={c.id} className="border-t border-hairline">
                    <th scope="row" className="py-1 text-left font-normal">
                      {c.heading} {WORDS.printed}
                      {table.inTable && <span className="block text-soft">{WORDS.ofTheWholeTable}</span>}
                    </th>
                    <td className="text-right">
                      {write(table.totals[c.id] ?? null).text || "–"}
                      {table.inTable && <span className="block text-soft">{write(table.inTable.totals[c.id] ?? null).text || "–"}</span>}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        );
      })}
      {Object.keys(proof.empty).length > 0 && (
        <table className="w-full text-small">
          <caption className="caption pb-1 text-left">{WORDS.emptyFields}</caption>
          <tbody>
            {Object.entries(proof.empty).map(([formula, letters]) => (
              <tr key={formula} className="border-t border-hairline">
                <th scope="row" className="py-1 text-left font-normal break-words">
                  {formula}
                </th>
                <td className="text-right whitespace-nowrap">{counted(letters, "letter", locale)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {spec.tables.length === 0 && <p className="text-small text-soft">{WORDS.insertATableOfRelated}</p>}
    </div>
  );
}

/** The tables of related rows: which rows, in what order, with which columns. */
export function TablesPanel({ spec, change, schema, parent, linked }: Edit & { schema: Schema; parent: Table | undefined; linked: boolean }) {
  const set = (id: string, next: Partial<Related> | null) =>
    change({ ...spec, tables: spec.tables.flatMap((t) => (t.id !== id ? [t] : next ? [{ ...t, ...next }] : [])) }, `table ${id}`);
  if (!parent || (spec.tables.length === 0 && !linked)) return <p className="text-soft">{WORDS.tablesOfRelatedRowsNeed}</p>;
  return (
    <div className="grid gap-6">
      {spec.tables.map((table) => (
        <section key={table.id} className="grid gap-2">
          <label className="grid gap-0.5 text-small">
            {COMMON.heading}
            <input className="field" value={table.title} onChange={(e) => set(table.id, { title: e.target.value })} />
          </label>
          <PanelBrief query={table.query} schema={schema} parent={parent} change={(query) => set(table.id, { query })} />
          <label className="flex gap-2 text-small">
            <input type="checkbox" className="accent-bottle" checked={table.hideEmpty} onChange={(e) => set(table.id, { hideEmpty: e.target.checked })} />
            {WORDS.leaveOutWithItsHeading}
          </label>
          <Remove onClick={() => set(table.id, null)}>{WORDS.removeTable}</Remove>
        </section>
      ))}
      {spec.tables.length === 0 && <p className="text-soft">{WORDS.noTablesYetInsertOne}</p>}
    </div>
  );
}

/** Paper, address, page numbers, the names of files, and the query's parameters. */
export function LetterSettings({
  spec,
  change,
  fields,
  problems,
  parameters,
}: Edit & { fields: Named[]; problems: Map<string, Problem>; parameters: PlanParameter[] }) {
  const { page } = spec;
  const setPage = (next: Partial<LetterSpec["page"]>) => change({ ...spec, page: { ...page, ...next } });
  const { only } = spec;
  return (
    <div className="grid gap-4">
      <div className="grid gap-2">
        <WhenEditor
          label={WORDS.whoGetsOne}
          when={only ?? null}
          set={(when) => change({ ...spec, only: when ?? undefined }, "only")}
          problem={(only?.kind === "formula" && problems.get(`conditions ${only.text}`)) || null}
          none={WORDS.everyRow}
        />
      </div>
      <FormulaField
        label={WORDS.fileNames}
        text={spec.fileName}
        fields={fields}
        problem={problems.get("fileName") ?? null}
        onChange={(fileName) => change({ ...spec, fileName }, "fileName")}
        placeholder="CONCAT_WS(' ', name, CURRENT_DATE)"
        note={WORDS.aFormulaOfTheQuerys}
      />
      <label className="grid gap-0.5 text-small">
        {WORDS.paper}
        <select className="field" value={page.paper} onChange={(e) => setPage({ paper: e.target.value as keyof typeof PAPERS })}>
          {Object.entries(PAPERS).map(([name, { width, height }]) => (
            <option key={name} value={name}>
              {WORDS.paperSize(name, width, height)}
            </option>
          ))}
        </select>
      </label>
      <fieldset className="grid grid-cols-2 gap-2 text-small">
        <legend className="pb-1">{WORDS.marginsMm}</legend>
        {(["top", "right", "bottom", "left"] as const).map((side) => (
          <label key={side} className="flex items-center justify-between gap-2">
            {side}
            <input
              className="field w-16 min-w-0 shrink max-[1100px]:w-13"
              type="number"
              min={0}
              max={100}
              value={page.margins[side]}
              onChange={(e) => setPage({ margins: { ...page.margins, [side]: Math.min(100, Math.max(0, Number(e.target.value))) } })}
            />
          </label>
        ))}
      </fieldset>
      <label className="grid gap-0.5 text-small">
        {WORDS.address}
        <select
          className="field"
          value={page.window ?? page.addressOn}
          onChange={(e) => {
            const window = ADDRESS_WINDOW_NAMES.find((w) => w === e.target.value);
            setPage(window ? { window } : { window: undefined, addressOn: e.target.value as "left" });
          }}
        >
          <option value="left">{WORDS.onTheLeft}</option>
          <option value="right">{WORDS.onTheRight}</option>
          {ADDRESS_WINDOW_NAMES.map((name) => (
            <option key={name} value={name}>
              {WORDS.windowOf(ADDRESS_WINDOWS[name].words)}
            </option>
          ))}
        </select>
      </label>
      {page.window && (
        <label className="flex gap-2 text-small">
          <input
            type="checkbox"
            className="accent-bottle"
            checked={page.foldMarks ?? false}
            onChange={(e) => setPage({ foldMarks: e.target.checked || undefined })}
          />
          {WORDS.foldMarks}
        </label>
      )}
      <label className="grid gap-0.5 text-small">
        {WORDS.pageNumbersPerLetter}
        <select className="field" value={page.numbers} onChange={(e) => setPage({ numbers: e.target.value as "always" })}>
          <option value="several">{WORDS.ifThereAreSeveralPages}</option>
          <option value="always">{WORDS.always}</option>
          <option value="never">{WORDS.never}</option>
        </select>
      </label>
      <BoundParameters parameters={parameters} bound={spec.parameters} change={(next) => change({ ...spec, parameters: next })} />
    </div>
  );
}

/** The picture beside the letterhead. */
export function HeadPicture({ spec, change }: Edit) {
  const { picture } = spec;
  return (
    <div className="grid w-40 justify-items-end gap-1 text-small">
      {/* biome-ignore lint/performance/noImgElement: a picture kept in the description itself */}
      {picture && <img src={pictureAddress(picture.png)} alt={picture.alt} className="max-h-20 max-w-40" />}
      <PictureChoice
        words={picture ? WORDS.replacePicture : WORDS.addPicture}
        className="link focus-within:underline"
        use={({ data, alt }) => change({ ...spec, picture: { png: data, widthMm: picture?.widthMm ?? 35, alt } })}
      />
      {picture && (
        <>
          <label className="flex items-center gap-1">
            <input
              className="field w-16"
              type="number"
              min={5}
              max={120}
              aria-label={WORDS.pictureWidthMm}
              value={picture.widthMm}
              onChange={(e) => change({ ...spec, picture: { ...picture, widthMm: Math.min(120, Math.max(5, Number(e.target.value))) } })}
            />
            {WORDS.mmWide}
          </label>
          <button type="button" className="font-semibold text-vermilion hover:underline" onClick={() => change({ ...spec, picture: null })}>
            {COMMON.remove}
          </button>
        </>
      )}
    </div>
  );
}
