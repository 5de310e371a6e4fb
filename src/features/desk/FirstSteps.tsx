import type { ReactNode } from "react";
import { Link } from "../Link";
import { DeskHeading } from "./DeskHeading";
import { WORDS } from "./words";

/** On a database without tables: the three first steps, each with a picture. */
export function FirstSteps() {
  const { first } = WORDS;
  const step = (title: string, about: string, picture: ReactNode) => (
    <li key={title}>
      <Link href="/tables" className="block h-full border border-rule bg-sheet p-4 hover:border-bottle">
        {picture}
        <span className="block pt-3 font-semibold text-bottle">{title}</span>
        <span className="block pt-1 text-small text-soft">{about}</span>
      </Link>
    </li>
  );
  return (
    <section>
      <DeskHeading words={first.heading} />
      <ol className="grid gap-4 pt-4 md:grid-cols-3">
        {step(first.importTitle, first.importAbout, <ImportPicture />)}
        {step(first.linkTitle, first.linkAbout, <LinkPicture />)}
        {step(first.askTitle, first.askAbout, <QueryPicture />)}
      </ol>
    </section>
  );
}

const Picture = ({ children }: { children: ReactNode }) => (
  <svg viewBox="0 0 160 80" aria-hidden="true" className="h-20 w-full" fill="none" stroke="var(--color-column)" strokeWidth="1.5">
    {children}
  </svg>
);

const ImportPicture = () => (
  <Picture>
    <path d="M28 14h26l10 10v42H28zM54 14v10h10M36 34h20M36 44h20M36 54h14" />
    <path d="M76 40h20m-6-6 6 6-6 6" stroke="var(--color-bottle)" />
    <path d="M108 20h40v40h-40zM108 30h40M108 40h40M108 50h40M121 20v40M134 20v40" />
  </Picture>
);

const LinkPicture = () => (
  <Picture>
    <path d="M16 16h48v48H16zM16 28h48M32 28v36M96 16h48v48H96zM96 28h48M112 28v36" />
    <path d="M64 46h12c6 0 6-8 12-8h8" stroke="var(--color-bottle)" strokeWidth="2" />
  </Picture>
);

const QueryPicture = () => (
  <Picture>
    <path d="M16 16h92M16 26h64" stroke="var(--color-bottle)" strokeWidth="2" />
    <path d="M16 36h92v30H16zM16 46h92M16 56h92M46 36v30M78 36v30" />
    <path d="M120 16v50M128 44l5 5 10-12" stroke="var(--color-bottle)" strokeWidth="2" />
  </Picture>
);
