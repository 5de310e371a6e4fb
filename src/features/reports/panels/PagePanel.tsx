"use client";

import { firstColumns } from "@/core/query/edit";
import { emptyQuery } from "@/core/query/empty";
import type { PlanParameter } from "@/core/query/plan";
import { PAPER_NAMES, PAPERS } from "@/core/report/choices";
import type { ReportShape, ReportSpec, ThreeParts } from "@/core/report/spec";
import { BoundParameters } from "../../editors/BoundParameters";
import { Link } from "../../Link";
import { readPicture } from "../../readPicture";
import { COMMON } from "../../words";
import { CheckRow, NumberRow, Row, SmallButton, TextWithFields } from "../fields";
import { WORDS } from "../words";
import { Closings } from "./Closings";
import { Passages } from "./Passages";
import type { PanelProps } from "./panel";

const NOTHING: ThreeParts = { left: "", center: "", right: "" };

type Props = PanelProps & {
  queries: { id: string; name: string }[];
  parameters: PlanParameter[];
  /** Lays the report over another query. */
  repoint: (source: Pick<ReportSpec, "query" | "own">) => void;
};

/** Source, texts around the rows, shape, paper, and the parameters the report binds. */
export function PagePanel(props: Props) {
  const { spec, change, columns, items, parameters } = props;
  const set = (next: Partial<ReportSpec>) => change({ ...spec, ...next });
  const page = (next: Partial<ReportSpec["page"]>) => set({ page: { ...spec.page, ...next } });
  const text = { columns, own: ["printed" as const] };
  return (
    <div className="grid gap-0.5">
      <Source {...props} />
      <TextWithFields label={COMMON.title} value={spec.title} set={(title) => set({ title })} {...text} />
      <TextWithFields label={WORDS.subtitle} value={spec.subtitle ?? ""} set={(subtitle) => set({ subtitle: subtitle || undefined })} {...text} />
      <CheckRow label={WORDS.briefUnderTheTitle} checked={spec.showBrief} set={(showBrief) => set({ showBrief })} />
      <CheckRow label={WORDS.parameterValues} checked={spec.showParameters ?? false} set={(on) => set({ showParameters: on || undefined })} />
      <CheckRow label={WORDS.controlTotals} checked={spec.showControls ?? false} set={(on) => set({ showControls: on || undefined })} />
      <Letterhead spec={spec} set={set} />
      <Row label={COMMON.rows}>
        <select
          className="field"
          value={spec.details === false ? "totals" : "rows"}
          onChange={(e) => set({ details: e.target.value === "rows" ? undefined : false })}
        >
          <option value="rows">{WORDS.allRowsPrinted}</option>
          <option value="totals">{WORDS.totalsOnly}</option>
        </select>
      </Row>
      <Shape spec={spec} set={set} columns={columns} />
      <Row label={WORDS.paper}>
        <select className="field" value={spec.page.paper} onChange={(e) => page({ paper: e.target.value as "A4" })}>
          {PAPER_NAMES.map((name) => (
            <option key={name} value={name}>
              {WORDS.paperSize(name, PAPERS[name].width, PAPERS[name].height)}
            </option>
          ))}
        </select>
      </Row>
      <CheckRow label={WORDS.landscape} checked={spec.page.landscape} set={(landscape) => page({ landscape })} />
      <CheckRow label={WORDS.duplex} checked={spec.page.duplex ?? false} set={(on) => page({ duplex: on || undefined })} />
      {(["top", "right", "bottom", "left"] as const).map((side) => (
        <NumberRow
          key={side}
          label={WORDS.marginMm(side)}
          value={spec.page.margins[side]}
          least={0}
          most={100}
          set={(mm) => page({ margins: { ...spec.page.margins, [side]: mm } })}
        />
      ))}
      <PageLines name={WORDS.header} parts={spec.header} set={(header) => set({ header })} columns={columns} />
      <PageLines name={WORDS.footer} parts={spec.footer} set={(footer) => set({ footer })} columns={columns} />
      <CheckRow
        label={WORDS.firstPageDiffers}
        checked={spec.first !== undefined}
        set={(on) => set({ first: on ? { header: NOTHING, footer: spec.footer } : undefined })}
      />
      {spec.first && (
        <>
          <PageLines
            name={WORDS.firstHeader}
            parts={spec.first.header}
            set={(header) => spec.first && set({ first: { ...spec.first, header } })}
            columns={columns}
          />
          <PageLines
            name={WORDS.firstFooter}
            parts={spec.first.footer}
            set={(footer) => spec.first && set({ first: { ...spec.first, footer } })}
            columns={columns}
          />
        </>
      )}
      <Passages {...props} />
      <Closings spec={spec} change={change} items={items} />
      <div className="pt-4">
        <BoundParameters parameters={parameters} bound={spec.parameters} change={(bound) => set({ parameters: bound })} />
      </div>
    </div>
  );
}

/** What the report is made from: a saved query, one of its own, or a table. */
function Source({ spec, queries, schema, query, repoint }: Props) {
  const choose = (value: string) => {
    if (value.startsWith("q ")) return repoint({ query: value.slice(2) });
    const table = value.slice(2);
    repoint({ query: spec.query, own: { ...emptyQuery(table), columns: firstColumns(schema, table, false) } });
  };
  return (
    <>
      <Row label={COMMON.source}>
        <select className="field" value={spec.own ? "" : `q ${spec.query}`} onChange={(e) => e.target.value && choose(e.target.value)}>
          {spec.own && <option value="">{WORDS.ownQuery}</option>}
          {!spec.own && !queries.some((q) => q.id === spec.query) && <option value={`q ${spec.query}`}>{WORDS.deletedQuery}</option>}
          <optgroup label={WORDS.queries}>
            {queries.map((q) => (
              <option key={q.id} value={`q ${q.id}`}>
                {q.name}
              </option>
            ))}
          </optgroup>
          <optgroup label={COMMON.tables}>
            {schema.tables
              .filter((t) => !t.inner)
              .map((t) => (
                <option key={t.name} value={`t ${t.name}`}>
                  {t.label}
                </option>
              ))}
          </optgroup>
        </select>
      </Row>
      <p className="flex gap-4 py-1">
        {!spec.own && (
          <Link className="link" href={`/queries/${spec.query}`}>
            {COMMON.openQuery}
          </Link>
        )}
        {!spec.own && query && (
          <button type="button" className="link" onClick={() => repoint({ query: spec.query, own: query })}>
            {WORDS.keepOwnCopy}
          </button>
        )}
      </p>
    </>
  );
}

function PageLines({ name, parts, set, columns }: { name: string; parts: ThreeParts; set: (parts: ThreeParts) => void; columns: Props["columns"] }) {
  return (
    <fieldset className="grid gap-0.5 border-b border-hairline pb-2">
      <legend className="caption pt-2">{name}</legend>
      {(["left", "center", "right"] as const).map((side) => (
        <TextWithFields
          key={side}
          label={WORDS.sides[side]}
          value={parts[side]}
          set={(text) => set({ ...parts, [side]: text })}
          columns={columns}
          own={["page", "pages", "page in group", "pages in group", "printed", "title"]}
        />
      ))}
    </fieldset>
  );
}

/** How rows stand on the paper. */
function Shape({ spec, set, columns }: { spec: ReportSpec; set: (next: Partial<ReportSpec>) => void; columns: Props["columns"] }) {
  const { shape } = spec;
  const first: Record<ReportShape["kind"], ReportShape> = {
    table: { kind: "table" },
    blocks: { kind: "blocks", across: 2 },
    columns: { kind: "columns", count: 2, gapMm: 6 },
    labels: { kind: "labels", widthMm: 63.5, heightMm: 38.1, gapXMm: 2.5, gapYMm: 0, lines: columns.slice(0, 3).map((c) => `{"${c.heading}"}`) },
  };
  const put = (next: Partial<ReportShape>) => set({ shape: { ...shape, ...next } as ReportShape });
  const mm = (label: string, name: "widthMm" | "heightMm" | "gapXMm" | "gapYMm", least: number) =>
    shape.kind === "labels" && (
      <NumberRow
        key={name}
        label={label}
        value={shape[name]}
        least={least}
        most={300}
        step={0.1}
        set={(value) => put({ [name]: value } as Partial<ReportShape>)}
      />
    );
  return (
    <>
      <Row label={WORDS.shape}>
        <select className="field" value={shape.kind} onChange={(e) => set({ shape: first[e.target.value as ReportShape["kind"]] })}>
          {Object.entries(WORDS.shapes).map(([kind, words]) => (
            <option key={kind} value={kind}>
              {words}
            </option>
          ))}
        </select>
      </Row>
      {shape.kind === "blocks" && <NumberRow label={WORDS.valuesAcross} value={shape.across} least={1} most={4} set={(across) => put({ across })} />}
      {shape.kind === "columns" && (
        <>
          <NumberRow label={WORDS.columnsDown} value={shape.count} least={2} most={6} set={(count) => put({ count })} />
          <NumberRow label={WORDS.gapMm} value={shape.gapMm} least={0} most={100} set={(gapMm) => put({ gapMm })} />
        </>
      )}
      {shape.kind === "labels" && (
        <>
          {mm(WORDS.labelWidth, "widthMm", 15)}
          {mm(WORDS.labelHeight, "heightMm", 10)}
          {mm(WORDS.gapAcross, "gapXMm", 0)}
          {mm(WORDS.gapDown, "gapYMm", 0)}
          {shape.lines.map((line, i) => (
            <div key={`line ${i}`} className="flex items-end gap-1">
              <div className="min-w-0 flex-1">
                <TextWithFields
                  label={WORDS.labelLine(i + 1)}
                  value={line}
                  set={(text) => put({ lines: shape.lines.map((l, k) => (k === i ? text : l)) })}
                  columns={columns}
                />
              </div>
              <SmallButton label={WORDS.removeLabelLine(i + 1)} tone="text-vermilion" onClick={() => put({ lines: shape.lines.filter((_, k) => k !== i) })}>
                ×
              </SmallButton>
            </div>
          ))}
          {shape.lines.length < 12 && (
            <button type="button" className="link justify-self-start" onClick={() => put({ lines: [...shape.lines, ""] })}>
              {WORDS.addLabelLine}
            </button>
          )}
        </>
      )}
    </>
  );
}

/** A picture over the title: a letterhead or a logo. */
function Letterhead({ spec, set }: { spec: ReportSpec; set: (next: Partial<ReportSpec>) => void }) {
  const { letterhead } = spec;
  async function choose(file: File | undefined): Promise<void> {
    const picture = await readPicture(file);
    if (picture) set({ letterhead: { ...picture, widthMm: letterhead?.widthMm ?? 40, at: letterhead?.at ?? "left" } });
  }
  return (
    <div className="grid gap-0.5 border-b border-hairline py-1">
      <span className="flex items-center justify-between gap-3">
        {WORDS.letterhead}
        <span className="flex gap-3">
          <label className="link cursor-pointer focus-within:underline">
            {letterhead ? COMMON.replace : WORDS.addPicture}
            <input type="file" accept="image/png,image/jpeg" className="sr-only" onChange={(e) => void choose(e.target.files?.[0])} />
          </label>
          {letterhead && (
            <SmallButton label={WORDS.removePicture} tone="text-vermilion" onClick={() => set({ letterhead: undefined })}>
              ×
            </SmallButton>
          )}
        </span>
      </span>
      {letterhead && (
        <>
          <NumberRow
            label={WORDS.pictureWidth}
            value={letterhead.widthMm}
            least={5}
            most={200}
            set={(widthMm) => set({ letterhead: { ...letterhead, widthMm } })}
          />
          <Row label={WORDS.place}>
            <select className="field" value={letterhead.at} onChange={(e) => set({ letterhead: { ...letterhead, at: e.target.value as "left" } })}>
              {(["left", "center", "right"] as const).map((side) => (
                <option key={side} value={side}>
                  {WORDS.sides[side]}
                </option>
              ))}
            </select>
          </Row>
          <Row label={WORDS.pictureAlt}>
            <input className="field" value={letterhead.alt} onChange={(e) => set({ letterhead: { ...letterhead, alt: e.target.value.slice(0, 200) } })} />
          </Row>
        </>
      )}
    </div>
  );
}
