import { setTimeout as sleep } from "node:timers/promises";
import { schemaAfterEdit, type Written } from "@/core/schema/afterEdit";
import { isSampled, type Retyped, retypedColumns, withKnownTypes } from "@/core/schema/sampled";
import type { Schema } from "@/core/schema/schema";
import type { ColumnSetting, MadeLink } from "@/core/schema/told";
import { inTurns } from "@/server/common/turns";
import type { Stamp } from "@/server/source/stamp";
import type { Watching } from "@/server/source/watching";
import type { KeptShape } from "./keptShape";

/*
 * What a database's shape is in each of its states. A large table's types are read from a sample first, so that pages
 * open at once; all values are looked at behind them:
 *
 *   a state ── a look at a sample ──▶ first ── a look at all values, one at a time ──▶ whole
 *
 * Pages are shown on the first; whatever writes, sends or keeps anything waits for the whole.
 */

/** What people told of a database that its shape is read with. */
export type ToldOfShape = { settings: ColumnSetting[]; links: MadeLink[] };

/** Reads the shape of the database. @param most how many values are looked at; of all of them where it is not given */
type Inspect = (told: ToldOfShape, most: number | undefined, onShare: (share: number) => void) => Promise<Schema>;

/** The shape of one state. `took`: how long it took until it was whole (ms); `sampled`: whether the first look took a sample; `done`: whether it is whole. */
type Shape = {
  stamp: Stamp;
  at: number;
  took: number;
  made: string;
  first: Promise<Schema>;
  whole: Promise<Schema>;
  sampled: boolean;
  done: boolean;
  wanted: Wanted;
};

/** So many values are looked at before pages are shown: a quarter of a second or so. */
const FIRST_LOOK = 2_000_000;

/** How long a page waits for the shape before it says what is being done. */
const OPENING_MS = 700;

/** How old a shape may be whose tables have other rows since: how many rows they have is told in it. What takes long is not done all the time. */
const SHAPE_MS = 30_000;
const SHAPE_TIMES = 50;

/** Looks at all values that nobody waits for lie so many times as far apart as the last one took: others may write all the time. */
const REST_TIMES = 4;
const LONGEST_REST_MS = 60_000;

export class Shapes {
  private current: Shape | null = null;
  /** What the last look at all values found, and with what people had told. */
  private known: { made: string; schema: Schema } | null = null;
  /** Looks at all values, one after the other. */
  private readonly inTurn = inTurns();
  private lastTook = 0;
  private share = 0;
  /** Whether a shape has been known since the server started. */
  private opened = false;
  private retyped: Retyped[] = [];

  /**
   * @param kept of a file; a server tells its shape in a moment
   * @param onWhole told of each shape that is known whole
   */
  constructor(
    private readonly watch: Watching,
    private readonly kept: KeptShape | null,
    private readonly inspect: Inspect,
    private readonly onWhole: (schema: Schema) => void,
  ) {}

  /**
   * The shape as the database is now. @param early whether one whose types are from a sample will do
   * @returns `isFirst` where it may be such a one: answers on it are not those on all values
   */
  async now(told: ToldOfShape, early: boolean): Promise<{ schema: Promise<Schema>; isFirst: boolean }> {
    const stamp = await this.watch.stamp();
    const made = JSON.stringify([told.settings, told.links]);
    const { current } = this;
    const shape = current?.made === made && isStill(current, stamp) ? current : this.begin(stamp, made, told);
    if (early && !shape.done) return { schema: shape.first, isFirst: true };
    shape.wanted.want();
    return { schema: shape.whole, isFirst: false };
  }

  /**
   * Takes the shape over an edit of the ledger's own, so that the next reader need not read the whole file again.
   * @param states the file before and after it; where it was in another state before, or somebody else wrote as well
   *   (after is null), the next reader reads it all
   */
  async editDone(written: Written, states: { before: string; after: string | null }): Promise<void> {
    const { current } = this;
    if (!current?.done || states.after === null || current.stamp.data !== states.before) return;
    const after = schemaAfterEdit(await current.whole, written);
    if (!after || this.current !== current) return;
    this.current = { ...current, stamp: { data: states.after, shape: states.after }, first: Promise.resolve(after), whole: Promise.resolve(after) };
    this.onWhole(after);
  }

  /**
   * How far the first look is, 0 to 1, where a first page would have to wait for it; null where a shape is known, or in a
   * moment. Once one was known, pages are open in which somebody works: they wait, and are not replaced.
   */
  async opening(told: ToldOfShape): Promise<number | null> {
    if (this.opened) return null;
    const known = this.now(told, true)
      .then(({ schema }) => schema)
      .then(
        () => true,
        // What is wrong is told where it is asked for.
        () => true,
      );
    const inTime = await Promise.race([known, sleep(OPENING_MS, false)]);
    return inTime ? null : this.share;
  }

  /** How much of all values has been looked at while types are from a sample, 0 to 1, null where they are not; and what the last such look found otherwise. */
  get looking(): { share: number | null; retyped: Retyped[] } {
    return { share: this.current?.sampled && !this.current.done ? this.share : null, retyped: this.retyped };
  }

  private begin(stamp: Stamp, made: string, told: ToldOfShape): Shape {
    this.share = 0;
    const kept = this.kept?.read(made);
    if (kept && this.known?.made !== made) this.known = { made, schema: kept.schema };
    const first = kept?.isNow ? Promise.resolve(kept.schema) : this.read(made, told, FIRST_LOOK);
    const shape: Shape = { stamp, at: Date.now(), took: 0, made, first, whole: first, sampled: false, done: kept?.isNow === true, wanted: new Wanted() };
    if (!shape.done) shape.whole = first.then((schema) => (isSampled(schema) ? this.lookInTurn(shape, told) : schema));
    this.current = shape;
    first.then(
      () => (this.opened = true),
      () => {},
    );
    shape.whole.then(
      (schema) => this.whole(shape, schema),
      () => {
        if (this.current === shape) this.current = null;
      },
    );
    return shape;
  }

  private whole(shape: Shape, schema: Schema): void {
    if (this.current !== shape) return;
    if (!shape.done) shape.took = Date.now() - shape.at;
    shape.done = true;
    this.onWhole(schema);
  }

  private async read(made: string, told: ToldOfShape, most?: number): Promise<Schema> {
    const read = () => this.inspect(told, most, (share) => (this.share = share));
    const schema = await (this.kept?.reading(made, read) ?? read());
    const known = this.known?.made === made ? this.known.schema : null;
    if (isSampled(schema)) return known ? withKnownTypes(schema, known) : schema;
    this.known = { made, schema };
    return schema;
  }

  /** Looks at all values when the looks before it are over; where the database has changed since, its next look is this one. */
  private async lookInTurn(shape: Shape, told: ToldOfShape): Promise<Schema> {
    shape.sampled = true;
    const looked = await this.inTurn(async (): Promise<{ schema: Schema } | { next: Shape }> => {
      await Promise.race([shape.wanted.asked, sleep(Math.min(LONGEST_REST_MS, REST_TIMES * this.lastTook), undefined, { ref: false })]);
      const { current } = this;
      if (current && current !== shape) return { next: current };
      const begun = Date.now();
      const schema = await this.read(shape.made, told);
      this.lastTook = Date.now() - begun;
      this.retyped = retypedColumns(await shape.first, schema);
      return { schema };
    });
    if ("schema" in looked) return looked.schema;
    if (shape.wanted.is) looked.next.wanted.want();
    return looked.next.whole;
  }
}

/** Whether somebody waits for something. */
class Wanted {
  is = false;
  want: () => void = () => {};
  readonly asked = new Promise<void>((resolve) => {
    this.want = () => {
      this.is = true;
      resolve();
    };
  });
}

/** Whether a shape is that of a state of the database. */
const isStill = ({ stamp, at, took }: Shape, now: Stamp): boolean =>
  stamp.data === now.data || (stamp.shape === now.shape && Date.now() - at < Math.max(SHAPE_MS, SHAPE_TIMES * took));
