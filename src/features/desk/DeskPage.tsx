"use client";

import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import type { ReactNode } from "react";
import type { DeskState } from "@/server/services/desk/desk";
import { Link } from "../Link";
import { useMakeFrom } from "../useMakeFrom";
import { Logo } from "../workspace/Logo";
import { useLocale } from "../workspace/locale";
import { PageHeading } from "../workspace/PageHeading";
import { useSignedIn } from "../workspace/person";
import { Continue } from "./Continue";
import { ControlsNow } from "./ControlsNow";
import { DeskDashboard } from "./DeskDashboard";
import { FirstSteps } from "./FirstSteps";
import { Needs } from "./Needs";
import { TodayRuns } from "./TodayRuns";
import { Walk } from "./Walk";
import { WORDS } from "./words";

/**
 * The first page after signing in: what needs a look, what runs today, what to go on with, how to start.
 * @param board the dashboard that an owner put on the desk
 */
export function DeskPage({ desk, board }: { desk: DeskState; board: ReactNode }) {
  const { locale } = useLocale();
  const { role } = useSignedIn();
  const day = new Intl.DateTimeFormat(locale, { weekday: "long", day: "numeric", month: "long", timeZone: "UTC" });
  const builds = role !== "viewer";
  return (
    <div className="flex h-full max-md:block max-md:overflow-auto">
      <section className="min-w-0 flex-1 overflow-auto px-10 pt-5 pb-10 max-md:px-4">
        <div className="max-w-4xl">
          <PageHeading name={WORDS.desk}>
            {day.format(new Date(`${desk.today}T00:00:00Z`))}{" "}
            <span className="inline-flex items-center gap-2 pl-2 align-middle font-sans text-small font-normal text-soft">
              <Logo address={desk.logo} className="h-7 max-w-32" />
              {desk.company}
            </span>
          </PageHeading>
          {builds && <Needs needs={desk.needs} />}
          {desk.tables.length === 0 && builds ? <FirstSteps /> : <Continue recents={desk.recents} />}
          {builds && desk.tables.length > 0 && <Start desk={desk} />}
        </div>
        {builds && desk.dashboards.length > 0 && <DeskDashboard chosen={desk.dashboard} dashboards={desk.dashboards} />}
        {board}
      </section>
      {builds && (
        <aside
          aria-label={WORDS.today}
          className="w-96 shrink-0 overflow-auto border-l-[3px] border-double border-column px-5 pt-6 pb-8 max-[1100px]:w-72 max-md:w-auto max-md:border-l-0"
        >
          <TodayRuns runs={desk.runs} />
          <ControlsNow />
          {desk.walk && <Walk done={desk.walk} />}
        </aside>
      )}
    </div>
  );
}

/** What work usually begins with. */
function Start({ desk }: { desk: DeskState }) {
  const make = useMakeFrom();
  const menu = (words: string, className: string, items: { key: string; name: string; item: (className: string) => ReactNode }[]) => (
    <Menu>
      <MenuButton className={className} disabled={items.length === 0}>
        {words}
      </MenuButton>
      <MenuItems anchor="bottom start" className="popover w-64">
        {items.map(({ key, item }) => (
          <MenuItem key={key}>{item("menu-item")}</MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
  return (
    <>
      <h2 className="pt-7 pb-2 font-serif text-[1.125rem] font-semibold">{WORDS.start}</h2>
      <div className="flex flex-wrap gap-2">
        {menu(
          WORDS.newQueryFromATable,
          "button-primary",
          desk.tables.map(({ name, label }) => ({
            key: name,
            name: label,
            item: (className) => (
              <Link href={`/queries/new?from=${encodeURIComponent(name)}`} className={className}>
                {label}
              </Link>
            ),
          })),
        )}
        <Link href="/tables" className="button">
          {WORDS.importFile}
        </Link>
        {menu(
          WORDS.newReport,
          "button",
          desk.queries.map(({ id, name }) => ({
            key: id,
            name,
            item: (className) => (
              <button type="button" className={className} onClick={() => void make("/api/report/new", "/reports", { query: id, values: {} })}>
                {name}
              </button>
            ),
          })),
        )}
        <Link href="/dashboards" className="button">
          {WORDS.newDashboard}
        </Link>
      </div>
    </>
  );
}
