import type { ReportSpec } from "@/core/report/spec";
import { FindInReport } from "./FindInReport";
import { Pager } from "./PagedView";
import { WORDS } from "./words";

/** How pages are looked at: two side by side, and how large, in percent. */
export type View = { two: boolean; zoom: number };

/** How wide a page is at 100 %, in rem. */
const PAGE_REM = 46;
const ZOOMS = [50, 75, 100, 125, 150, 200] as const;

/** How wide the pages of a view are. */
export const widthOf = ({ two, zoom }: View) => ({
  maxWidth: `${((two ? 2 : 1) * PAGE_REM * zoom) / 100}rem`,
  minWidth: zoom > 100 ? `${(PAGE_REM * zoom) / 100}rem` : undefined,
});

type Props = { spec: ReportSpec; at: number; count: number | null; go: (page: number) => void; view: View; setView: (view: View) => void };

/** Over the pages: which one, how large, and what is found in them. */
export const PagesBar = ({ spec, at, count, go, view, setView }: Props) => (
  <>
    <Pager noun="page" at={at - 1} count={count} go={(to) => go(to + 1)} />
    <select className="field w-20" aria-label={WORDS.previewing} value={view.zoom} onChange={(e) => setView({ ...view, zoom: Number(e.target.value) })}>
      {ZOOMS.map((z) => (
        <option key={z} value={z}>
          {WORDS.zoomPercent(z)}
        </option>
      ))}
    </select>
    <label className="flex items-center gap-1.5 text-small max-[1100px]:hidden">
      <input type="checkbox" className="accent-bottle" checked={view.two} onChange={(e) => setView({ ...view, two: e.target.checked })} />
      {WORDS.twoPages}
    </label>
    <FindInReport spec={spec} go={go} />
  </>
);
