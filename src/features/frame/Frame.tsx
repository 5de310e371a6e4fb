"use client";

import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Cog6ToothIcon, MagnifyingGlassIcon } from "@heroicons/react/16/solid";
import dynamic from "next/dynamic";
import { usePathname, useRouter } from "next/navigation";
import { type ReactNode, useCallback, useEffect, useRef, useState } from "react";
import { Toaster } from "sonner";
import { guidePageFor } from "../help/screens";
import { Link } from "../Link";
import { signOut } from "../people/signOut";
import { COMMON } from "../words";
import { LocaleContext } from "../workspace/locale";
import { PlaceContext } from "../workspace/PageHeading";
import { SignedInContext } from "../workspace/person";
import { WaysContext } from "../workspace/ways";
import { FirstSight } from "./FirstSight";
import type { FrameData } from "./frameData";
import { frameKey, TYPED_INTO, typedAhead } from "./keys";
import { Looking } from "./Looking";
import { type PageDeed, PageDeedsContext } from "./pageDeeds";
import { SectionMenu, SectionTabs } from "./Sections";
import type { Section } from "./sections";
import { useTrail } from "./useTrail";
import { WORDS } from "./words";

const FindOrDo = dynamic(() => import("./FindOrDo"), { ssr: false });
const HelpPanel = dynamic(() => import("../help/HelpPanel"), { ssr: false });

/** The first letters of a name: of its first word and its last. */
export const initials = (name: string): string => {
  const words = name.trim().split(/\s+/);
  return [words[0], words.length > 1 ? words.at(-1) : ""]
    .map((w) => (w ? [...w][0] : ""))
    .join("")
    .toUpperCase();
};

const Initials = ({ name }: { name: string }) => (
  <>
    <span aria-hidden="true">{initials(name)}</span>
    <span className="sr-only">{name}</span>
  </>
);

/** Who is signed in, and what concerns the account. */
function Person({ data: { person, role } }: { data: FrameData }) {
  const router = useRouter();
  const go = (words: string, act: () => void) => (
    <MenuItem key={words}>
      <button type="button" className="menu-item" onClick={act}>
        {words}
      </button>
    </MenuItem>
  );
  return (
    <Menu>
      <MenuButton
        aria-label={person?.name ?? COMMON.settings}
        title={person?.name ?? COMMON.settings}
        className="flex size-7 items-center justify-center rounded-full bg-plum text-tiny font-semibold text-on-fill"
      >
        {person ? <Initials name={person.name} /> : <Cog6ToothIcon className="size-4" />}
      </MenuButton>
      <MenuItems anchor="bottom end" className="popover w-52">
        {person && <p className="px-2 pb-1 font-semibold">{person.name}</p>}
        {person && go(COMMON.myAccount, () => router.push("/me"))}
        {go(COMMON.settings, () => router.push("/settings"))}
        {role === "owner" && go(COMMON.peopleRowRulesLog, () => router.push("/people"))}
        {person && go(COMMON.signOut, () => void signOut(false))}
      </MenuItems>
    </Menu>
  );
}

/** Ctrl K opens find-or-do, ? the help; what is typed into a field is left alone. */
function useKeys({ find, help, typed }: { find: () => void; help: () => void; typed: (key: string) => boolean }): void {
  const act = useRef({ find, help, typed });
  act.current = { find, help, typed };
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (act.current.typed(typedAhead(event))) return event.preventDefault();
      const deed = frameKey(event, event.target instanceof HTMLElement && event.target.closest(TYPED_INTO) !== null);
      if (!deed) return;
      event.preventDefault();
      act.current[deed]();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}

/** Beside a section's name: how many runs need a look, how many files there are. */
function Beside({ section: { href }, data }: { section: Section; data: FrameData }) {
  const [count, words, tone] =
    href === "/"
      ? [data.troubled, WORDS.runsNeedALook(String(data.troubled)), "text-vermilion"]
      : href === "/outbox"
        ? [data.outbox, WORDS.files(String(data.outbox)), "text-bottle"]
        : [0, "", ""];
  return count > 0 ? (
    <b className={`pl-1 ${tone}`} title={words}>
      {count}
    </b>
  ) : null;
}

/** Opens find-or-do. Until it is there to be typed into, what is typed is kept for it. */
function useFinding() {
  const [finding, setFinding] = useState(false);
  const ahead = useRef<string | null>(null);
  const find = () => {
    if (finding) return;
    ahead.current = "";
    setFinding(true);
  };
  const closeFind = () => {
    ahead.current = null;
    setFinding(false);
  };
  /** @returns whether it was kept */
  const typed = (key: string): boolean => {
    if (ahead.current === null || key === "") return false;
    ahead.current += key;
    return true;
  };
  return { finding, find, closeFind, typed, ahead };
}

/** The frame of every page: the bar on top, with the sections as index tabs, and what is open over the page. */
export function Frame({ data, children }: { data: FrameData; children: ReactNode }) {
  const path = usePathname();
  const { finding, find, closeFind, typed, ahead } = useFinding();
  const [helping, setHelping] = useState(false);
  const closeHelp = useCallback(() => setHelping(false), []);
  const deeds = useRef<PageDeed[]>([]);
  const work = useRef<HTMLElement>(null);
  const { from, tell, choosing } = useTrail(work);
  useKeys({ find, help: () => setHelping((open) => !open), typed });
  return (
    <LocaleContext.Provider value={data.locale}>
      <WaysContext.Provider value={data.ways}>
        <SignedInContext.Provider value={data}>
          <PlaceContext.Provider value={tell}>
            <PageDeedsContext.Provider value={deeds}>
              <a href="#work" className="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-sheet focus:p-2">
                {WORDS.skipToContent}
              </a>
              <div className="print-flow flex h-dvh flex-col">
                <header
                  onClickCapture={(e) => e.target instanceof Element && e.target.closest("a[href]") && choosing()}
                  className="no-print @container shrink-0 border-b border-rule bg-sheet"
                >
                  <div className="flex items-end gap-2 px-4 pt-2">
                    <Link href="/" className="pr-2 pb-2.5 font-serif text-[1.125rem] font-semibold whitespace-nowrap @max-[69rem]:pr-0">
                      Next <i className="font-medium text-bottle">Ledger</i>
                    </Link>
                    <SectionTabs role={data.role} path={path} beside={(section) => <Beside section={section} data={data} />} />
                    <SectionMenu role={data.role} path={path} />
                    <div className="ml-auto flex items-center gap-3 pb-2">
                      <button
                        type="button"
                        aria-label={COMMON.findOrDo}
                        onClick={find}
                        className="flex items-center gap-6 rounded-md border border-rule bg-paper px-2.5 py-1 whitespace-nowrap text-soft @max-[78rem]:gap-0"
                      >
                        <span className="@max-[78rem]:hidden">{COMMON.findOrDoHint}</span>
                        <MagnifyingGlassIcon className="hidden size-4 @max-[34rem]:block" />
                        <kbd className="@max-[34rem]:hidden rounded border border-rule bg-sheet px-1.5 font-sans text-tiny">Ctrl K</kbd>
                      </button>
                      <button
                        type="button"
                        aria-label={WORDS.help}
                        title={WORDS.help}
                        aria-expanded={helping}
                        className="small-button text-base"
                        onClick={() => setHelping((open) => !open)}
                      >
                        ?
                      </button>
                      <Person data={data} />
                    </div>
                  </div>
                </header>
                {from && (
                  <nav aria-label={WORDS.wayBack} className="no-print shrink-0 border-b border-hairline bg-paper px-4 py-0.5 text-small">
                    <Link href={from.address} className="link">
                      {WORDS.backTo(from.name)}
                    </Link>
                  </nav>
                )}
                <Looking first={data.looked} />
                <FirstSight path={path} />
                <div className="print-flow relative min-h-0 flex-1">
                  <main ref={work} id="work" className="print-flow h-full">
                    {children}
                  </main>
                  {helping && <HelpPanel page={guidePageFor(path)} close={closeHelp} />}
                </div>
              </div>
              {finding && <FindOrDo close={closeFind} help={() => setHelping(true)} ahead={ahead} />}
              <Toaster
                position="bottom-center"
                // Below popovers (40): what is being done is not covered by what was.
                style={{ zIndex: 30 }}
                toastOptions={{
                  style: { background: "var(--color-ink)", color: "var(--color-sheet)", border: "none", fontFamily: "var(--font-sans)" },
                  actionButtonStyle: { background: "var(--color-sheet)", color: "var(--color-ink)" },
                  cancelButtonStyle: { background: "transparent", color: "var(--color-sheet)" },
                }}
              />
            </PageDeedsContext.Provider>
          </PlaceContext.Provider>
        </SignedInContext.Provider>
      </WaysContext.Provider>
    </LocaleContext.Provider>
  );
}
